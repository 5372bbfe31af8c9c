// hseam select IMAGE --subject [--box x,y,w,h] [--hints H.png] --out SEL.png

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/select/subject_guess.h"

namespace hseam::cli {
namespace {

struct Options {
  std::string image, hints, out;
  std::vector<int> box;
  bool subject = false;
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

base::Result<Json> choose(Run& run, const Options& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  select::GuessOptions guess;
  if (o.box.size() == 4) guess.box = base::Rect{o.box[0], o.box[1], o.box[2], o.box[3]};
  if (!o.hints.empty()) {
    HSEAM_TRY(guess.hints, readHints(run, o.hints, picture.pixels.size()));
  }
  auto selection = run.work([&] { return select::guessSubject(picture.pixels, guess, run.executor(), run.progress()); });
  if (!selection.ok()) return selection.error();
  HSEAM_DO(image::writeTiled(o.out, *selection));
  return Json{{"width", picture.pixels.size().width}, {"height", picture.pixels.size().height}};
}

}  // namespace

void addSelect(Commands& commands) {
  auto o = std::make_shared<Options>();
  CLI::App* c = commands.add("select", "make a selection of a picture", [o](Run& run) { return choose(run, *o); });
  c->add_option("image", o->image, "the picture")->required();
  c->add_flag("--subject", o->subject, "guess the subject")->required();
  c->add_option("--box", o->box, "x,y,w,h in px: the subject lies inside")->delimiter(',')->expected(4);
  c->add_option("--hints", o->hints, "8-bit picture: 255 subject, 1 background, 0 nothing said");
  c->add_option("--out", o->out, "write the selection here, 8-bit grey")->required();
}

}  // namespace hseam::cli
