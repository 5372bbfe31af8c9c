// hseam select IMAGE (--subject [--at x,y] [--box x,y,w,h] [--hints H.png] [--candidates DIR] | --colour x,y --reach DE2000
//   [--everywhere] | --path P.svg) --out SEL.png

#include <CLI/CLI.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/path/svg.h"
#include "core/select/full_size.h"
#include "core/tasks/select.h"

namespace hseam::cli {
namespace {

struct SelectWords {
  std::string image, hints, path, out, candidates;
  std::vector<int> box, colour, at;
  double reach = 10;
  bool subject = false, everywhere = false;
};

// Files say 255 subject, 1 background, 0 nothing; anything else is a mistake that must not pass for a hint.
base::Result<image::TiledImage> readHints(Run& run, const std::string& path, base::Size size) {
  HSEAM_TRY(const image::TiledImage file, companion(run, path, size, "hints"));
  HSEAM_TRY(auto raster, image::read8(file, 0, base::Rect::of(size)));
  for (std::uint8_t& v : raster.samples()) {
    if (v != 0 && v != 1 && v != 255) {
      return base::Error{base::Code::invalid, path,
                         "a hint has the value " + std::to_string(v) + "; use 255 subject, 1 background, 0 nothing"};
    }
    v = v == 255 ? select::kHintSubject : (v == 1 ? select::kHintBackground : select::kHintNothing);
  }
  return image::tiledFromRaster(raster, image::PixelFormat::grey8, run.memory(), run.executor());
}

base::Result<tasks::SelectOptions> asked(Run& run, const SelectWords& o, base::Size size) {
  if (!o.path.empty()) {
    HSEAM_TRY(path::Path outline, path::readSvg(o.path));
    return tasks::SelectOptions(tasks::ByPath{std::move(outline)});
  }
  if (!o.colour.empty()) return tasks::SelectOptions(tasks::ByColour{{o.colour[0], o.colour[1]}, o.reach, o.everywhere});
  constexpr int kMostSeen = 5;
  tasks::BySubject by;
  if (o.box.size() == 4) by.guess.box = base::Rect{o.box[0], o.box[1], o.box[2], o.box[3]};
  if (!o.hints.empty()) {
    HSEAM_TRY(by.guess.hints, readHints(run, o.hints, size));
  }
  if (o.at.size() == 2) by.at = {o.at[0], o.at[1]};
  if (!o.candidates.empty()) by.candidates = kMostSeen;
  return tasks::SelectOptions(std::move(by));
}

// Each candidate as a selection of its own, the best first.
base::Status writeCandidates(Run& run, const SelectWords& o, const image::TiledImage& picture,
                             const std::vector<select::Candidate>& all, Json& said) {
  std::error_code failed;
  std::filesystem::create_directories(o.candidates, failed);
  if (failed) return base::Error{base::Code::unwritable, o.candidates, "the folder cannot be made: " + failed.message()};
  said["candidates"] = Json::array();
  for (std::size_t i = 0; i < all.size(); ++i) {
    const std::string file = o.candidates + "/" + std::to_string(i + 1) + ".png";
    HSEAM_TRY(const auto full, select::atFullSize(picture, all[i].subject, run.executor(), {}));
    HSEAM_DO(image::writeTiled(file, full));
    said["candidates"].push_back({{"what", all[i].what}, {"confidence", all[i].confidence}, {"file", file}});
  }
  return {};
}

base::Result<Json> choose(Run& run, const SelectWords& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  HSEAM_TRY(const tasks::SelectOptions how, asked(run, o, picture.pixels.size()));
  const auto made = run.work([&] { return tasks::select(picture.pixels, how, run.executor(), run.progress()); });
  if (!made.ok()) return named(made.error(), o.image);
  Json said = {{"width", picture.pixels.size().width}, {"height", picture.pixels.size().height}};
  if (!made->seen.candidates.empty()) {
    const select::Candidate& best = made->seen.candidates[made->which];
    said["what"] = best.what;
    said["confidence"] = best.confidence;
    said["doubtful"] = Json::array();
    for (const base::Rect& r : made->seen.doubtful) said["doubtful"].push_back({r.x, r.y, r.width, r.height});
    if (!made->seen.missing.empty()) said["missing"] = made->seen.missing;
    if (!o.candidates.empty()) HSEAM_DO(writeCandidates(run, o, picture.pixels, made->seen.candidates, said));
  }
  HSEAM_DO(image::writeTiled(o.out, made->selection));
  return said;
}

}  // namespace

void addSelect(Commands& commands) {
  auto o = std::make_shared<SelectWords>();
  CLI::App* c = commands.add("select", "make a selection of a picture", [o](Run& run) { return choose(run, *o); });
  c->add_option("image", o->image, "the picture")->required();
  CLI::Option_group* how = c->add_option_group("how", "what is chosen; one of these");
  auto* subject = how->add_flag("--subject", o->subject, "guess the subject");
  auto* colour = how->add_option("--colour", o->colour, "x,y: what has the colour of this pixel and hangs together with it")
                     ->delimiter(',')
                     ->expected(2);
  how->add_option("--path", o->path, "what the outlines of this SVG file enclose, in px of the picture");
  how->require_option(1);
  c->add_option("--box", o->box, "with --subject, x,y,w,h in px: the subject lies inside")
      ->delimiter(',')
      ->expected(4)
      ->needs(subject);
  c->add_option("--at", o->at, "with --subject, x,y: of what is seen, the smallest thing that takes in this pixel")
      ->delimiter(',')
      ->expected(2)
      ->needs(subject);
  c->add_option("--candidates", o->candidates, "with --subject, write everything that is seen into this folder, 1.png the best")
      ->needs(subject);
  c->add_option("--hints", o->hints, "with --subject, an 8-bit picture: 255 subject, 1 background, 0 nothing said")
      ->needs(subject);
  c->add_option("--reach", o->reach, "with --colour, CIEDE2000 within which a colour is chosen wholly (10)")
      ->check(CLI::Range(0.0, 100.0))
      ->needs(colour);
  c->add_flag("--everywhere", o->everywhere, "with --colour: also what does not hang together with the pixel")->needs(colour);
  c->add_option("--out", o->out, "write the selection here, 8-bit grey")->required();
}

}  // namespace hseam::cli
