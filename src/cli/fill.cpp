// hseam fill IMAGE --hole H.png [--from S.png] [--line "x,y x,y"]... --out OUT

#include <CLI/CLI.hpp>
#include <cmath>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <sstream>

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/repair/fill.h"

namespace hseam::cli {
namespace {

struct FillCommand {
  std::string image, hole, from, out;
  std::vector<std::string> lines;
  std::uint32_t seed = 1;
};

// "x,y x,y …", px of the picture.
base::Result<repair::StructureLine> lineFrom(const std::string& text) {
  repair::StructureLine line;
  std::istringstream in(text);
  for (std::string pair; in >> pair;) {
    base::Point p;
    int read = 0;
    if (std::sscanf(pair.c_str(), "%lf,%lf%n", &p.x, &p.y, &read) != 2 || std::size_t(read) != pair.size() ||
        !(std::abs(p.x) < 1e6 && std::abs(p.y) < 1e6))
      return base::Error{base::Code::invalid, "--line", "\"" + pair + "\" is no place such as 120,85"};
    line.push_back(p);
  }
  if (line.size() < 2) return base::Error{base::Code::invalid, "--line", "a line needs two places, such as \"120,85 160,90\""};
  return line;
}

base::Result<Json> fill(Run& run, const FillCommand& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  HSEAM_TRY(const image::TiledImage hole, companion(run, o.hole, picture.pixels.size(), "a mask"));
  repair::FillOptions options;
  options.seed = o.seed;
  if (!o.from.empty()) {
    HSEAM_TRY(options.from, companion(run, o.from, picture.pixels.size(), "a mask"));
  }
  for (const std::string& text : o.lines) {
    HSEAM_TRY(options.lines.emplace_back(), lineFrom(text));
  }
  auto made = run.work([&] { return repair::filled(picture.pixels, hole, options, run.executor(), run.progress()); });
  if (!made.ok()) return base::Error{made.error().code, o.hole, made.error().detail};
  HSEAM_DO(image::writeTiled(o.out, *made));
  return Json{{"width", picture.pixels.size().width}, {"height", picture.pixels.size().height}};
}

}  // namespace

void addFill(Commands& commands) {
  const auto o = std::make_shared<FillCommand>();
  CLI::App* sub = commands.add("fill", "fills a hole with what its surroundings show", [o](Run& run) { return fill(run, *o); });
  sub->add_option("image", o->image, "a picture")->required();
  sub->add_option("--hole", o->hole, "8-bit grey, > 127: to be filled")->required();
  sub->add_option("--from", o->from, "8-bit grey, > 127: it is filled from here alone");
  sub->add_option("--line", o->lines, "\"x,y x,y …\": a line that goes on across the hole; once for each line");
  sub->add_option("--seed", o->seed, "another number: another candidate");
  sub->add_option("--out", o->out, "the picture; nothing but the hole changes")->required();
}

}  // namespace hseam::cli
