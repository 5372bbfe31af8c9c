// hseam select IMAGE (--subject [--at x,y] [--box x,y,w,h] [--hints H.png] [--candidates DIR] | --colour x,y --reach DE2000
//   [--everywhere] | --path P.svg) --out SEL.png

#include <CLI/CLI.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/path/cover.h"
#include "core/path/svg.h"
#include "core/select/colour_reach.h"
#include "core/select/full_size.h"
#include "core/select/subject_guess.h"

namespace hseam::cli {
namespace {

struct SelectOptions {
  std::string image, hints, path, out, candidates;
  std::vector<int> box, colour, at;
  double reach = 10;
  bool subject = false, everywhere = false;
};

// Files say 255 subject, 1 background, 0 nothing; anything else is a mistake that must not pass for a hint.
base::Result<image::TiledImage> readHints(Run& run, const std::string& path, base::Size size) {
  HSEAM_TRY(const image::TiledImage file, image::readCoverage(path, run.memory(), run.executor()));
  HSEAM_DO(sameSize(size, file.size(), path));
  if (image::isWide(file.format())) return base::Error{base::Code::unsupported, path, "hints must have 8 bit"};
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

base::Error noSuchPixel(const SelectOptions& o, const std::vector<int>& at, base::Size size) {
  return {base::Code::invalid, o.image,
          "there is no pixel " + std::to_string(at[0]) + "," + std::to_string(at[1]) + "; the picture has " +
              std::to_string(size.width) + " x " + std::to_string(size.height)};
}

// The smallest candidate that takes in the pixel: a person before everything in front.
base::Result<std::size_t> candidateAt(const SelectOptions& o, const std::vector<select::Candidate>& all, base::Size size) {
  std::size_t best = all.size();
  std::ptrdiff_t least = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const auto& s = all[i].subject;
    if (*s.at(o.at[0] * s.width() / size.width, o.at[1] * s.height() / size.height) < 128) continue;
    const auto area = std::count_if(s.samples().begin(), s.samples().end(), [](std::uint8_t v) { return v >= 128; });
    if (best == all.size() || area < least) best = i, least = area;
  }
  if (best < all.size()) return best;
  return base::Error{base::Code::notFound, o.image,
                     "nothing that stands out was seen at " + std::to_string(o.at[0]) + "," + std::to_string(o.at[1]) +
                         "; say more with --box or --hints"};
}

// Each candidate as a selection of its own, the best first.
base::Status writeCandidates(Run& run, const SelectOptions& o, const image::TiledImage& picture,
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

base::Result<image::TiledImage> bySubject(Run& run, const SelectOptions& o, const image::TiledImage& picture, Json& said) {
  select::GuessOptions guess;
  if (o.box.size() == 4) guess.box = base::Rect{o.box[0], o.box[1], o.box[2], o.box[3]};
  if (!o.hints.empty()) {
    HSEAM_TRY(guess.hints, readHints(run, o.hints, picture.size()));
  }
  if (o.at.size() == 2 && !base::Rect::of(picture.size()).contains(o.at[0], o.at[1])) return noSuchPixel(o, o.at, picture.size());
  constexpr int kMostSeen = 5;
  const bool others = o.at.size() == 2 || !o.candidates.empty();
  select::SeenSubjects seen;
  HSEAM_TRY(const auto chosen, run.work([&]() -> base::Result<image::TiledImage> {
    HSEAM_TRY(seen, select::seeSubjects(picture, guess, others ? kMostSeen : 1, run.progress().part(0, 0.7)));
    std::size_t which = 0;
    if (o.at.size() == 2) {
      HSEAM_TRY(which, candidateAt(o, seen.candidates, picture.size()));
    }
    const select::Candidate& best = seen.candidates[which];
    said["what"] = best.what;
    said["confidence"] = best.confidence;
    said["doubtful"] = Json::array();
    for (const base::Rect& r : seen.doubtful) said["doubtful"].push_back({r.x, r.y, r.width, r.height});
    if (!seen.missing.empty()) said["missing"] = seen.missing;
    return select::atFullSize(picture, best.subject, run.executor(), run.progress().part(0.7, 1));
  }));
  if (!o.candidates.empty()) HSEAM_DO(writeCandidates(run, o, picture, seen.candidates, said));
  return chosen;
}

base::Result<image::TiledImage> byColour(Run& run, const SelectOptions& o, const image::TiledImage& picture) {
  const int x = o.colour[0], y = o.colour[1];
  if (!base::Rect::of(picture.size()).contains(x, y)) return noSuchPixel(o, o.colour, picture.size());
  const base::Point at{x + 0.5, y + 0.5};
  select::ColourReach reach;
  HSEAM_TRY(const auto sample, select::colourAround(picture, at, 0));
  reach.samples = {sample};
  reach.reach = o.reach;
  if (!o.everywhere) reach.joinedTo = {at};
  return run.work([&] { return select::chosenByColour(picture, reach, run.executor(), run.progress()); });
}

base::Result<image::TiledImage> byPath(Run& run, const SelectOptions& o, const image::TiledImage& picture) {
  HSEAM_TRY(const path::Path outline, path::readSvg(o.path));
  return run.work([&] { return path::coverage(outline, picture.size(), run.memory(), run.executor()); });
}

base::Result<Json> choose(Run& run, const SelectOptions& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  Json said = {{"width", picture.pixels.size().width}, {"height", picture.pixels.size().height}};
  const auto selection = !o.path.empty()     ? byPath(run, o, picture.pixels)
                         : !o.colour.empty() ? byColour(run, o, picture.pixels)
                                             : bySubject(run, o, picture.pixels, said);
  if (!selection.ok()) return selection.error();
  HSEAM_DO(image::writeTiled(o.out, *selection));
  return said;
}

}  // namespace

void addSelect(Commands& commands) {
  auto o = std::make_shared<SelectOptions>();
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
