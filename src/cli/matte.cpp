// hseam matte IMAGE --trimap T [--alpha A] [--foreground F] [--cutout RGBA]

#include <sys/resource.h>

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/matte/band.h"
#include "core/matte/solver.h"

namespace hseam::cli {
namespace {

struct Options {
  std::string image, trimap, alpha, foreground, cutout;
};

// Colours and alpha in one straight RGBA picture.
base::Status writeCutout(const std::string& path, const matte::Cut& cut) {
  const base::Size size = cut.alpha.size();
  const bool wide = image::isWide(cut.clean.format());
  const auto kind = image::fileKindOf(path);
  if (kind != image::FileKind::png && kind != image::FileKind::tiff) {
    return base::Error{base::Code::unsupported, path, "a cut-out needs a format with alpha: name it .png or .tif"};
  }
  const int ch = image::channelsOf(cut.clean.format());
  return image::writePicture(path, {*kind, size, wide ? image::PixelFormat::rgba16 : image::PixelFormat::rgba8, 92, true},
                             [&](int y, std::byte* row) -> base::Status {
                               HSEAM_TRY(const auto colours, image::readFloat(cut.clean, 0, {0, y, size.width, 1}));
                               HSEAM_TRY(const auto alpha, image::readFloat(cut.alpha, 0, {0, y, size.width, 1}));
                               for (int x = 0; x < size.width; ++x) {
                                 for (int c = 0; c < 4; ++c) {
                                   const float v = c < 3 ? colours.at(x, 0)[std::min(c, ch - 1)] : *alpha.at(x, 0);
                                   if (wide) {
                                     reinterpret_cast<std::uint16_t*>(row)[x * 4 + c] = std::uint16_t(std::lround(v * 65535));
                                   } else {
                                     reinterpret_cast<std::uint8_t*>(row)[x * 4 + c] = std::uint8_t(std::lround(v * 255));
                                   }
                                 }
                               }
                               return {};
                             });
}

double peakMegabytes() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return double(usage.ru_maxrss) / 1024;
}

base::Result<Json> solve(Run& run, const Options& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  HSEAM_TRY(image::TiledImage trimap, image::readCoverage(o.trimap, run.memory(), run.executor()));
  HSEAM_DO(sameSize(picture.pixels.size(), trimap.size(), o.trimap));
  if (image::isWide(trimap.format())) return base::Error{base::Code::unsupported, o.trimap, "a trimap must have 8 bit"};
  HSEAM_TRY(const double undecided, matte::undecidedShare(trimap));
  auto solved = run.work(
      [&] { return matte::solveCut(picture.pixels, trimap, {}, image::PixelFormat::grey16, run.executor(), run.progress()); });
  if (!solved.ok()) return solved.error();
  if (!o.alpha.empty()) HSEAM_DO(image::writeTiled(o.alpha, solved->alpha));
  if (!o.foreground.empty()) HSEAM_DO(image::writeTiled(o.foreground, solved->clean));
  if (!o.cutout.empty()) HSEAM_DO(writeCutout(o.cutout, *solved));
  const base::Size size = picture.pixels.size();
  const double megapixels = double(size.width) * size.height / 1e6;
  Json j = {{"width", size.width},
            {"height", size.height},
            {"undecided_share", undecided},
            {"s_per_megapixel", run.workSeconds() / megapixels},
            {"peak_memory_mb", peakMegabytes()}};
  for (const std::string& w : picture.warnings) j["warnings"].push_back(w);
  return j;
}

}  // namespace

void addMatte(Commands& commands) {
  auto o = std::make_shared<Options>();
  CLI::App* c = commands.add("matte", "solve alpha for the undecided pixels of a trimap, and the subject's own colours",
                             [o](Run& run) { return solve(run, *o); });
  c->add_option("image", o->image, "the picture")->required();
  c->add_option("--trimap", o->trimap, "grey picture of its size: under 86 background, over 170 subject, else undecided")
      ->required();
  c->add_option("--alpha", o->alpha, "write alpha here, 16-bit grey");
  c->add_option("--foreground", o->foreground, "write the subject's own colours here");
  c->add_option("--cutout", o->cutout, "write colours with alpha here");
}

}  // namespace hseam::cli
