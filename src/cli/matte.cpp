// hseam matte IMAGE --trimap T [--alpha A] [--foreground F] [--cutout RGBA]
// hseam cut IMAGE --selection SEL [--alpha A] [--foreground F] [--cutout RGBA] [--band B]

#include <sys/resource.h>
#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/image/picture_file.h"
#include "core/matte/band.h"
#include "core/matte/solver.h"
#include "core/tasks/cut_out.h"

namespace hseam::cli {
namespace {

struct MatteOptions {
  std::string image, trimap, selection, alpha, foreground, cutout, band;
};

// Colours and alpha in one straight RGBA picture.
base::Status writeCutout(Run& run, const std::string& path, const matte::Cut& cut) {
  const auto kind = image::fileKindOf(path);
  if (kind != image::FileKind::png && kind != image::FileKind::tiff) {
    return base::Error{base::Code::unsupported, path, "a cut-out needs a format with alpha: name it .png or .tif"};
  }
  HSEAM_TRY(const image::TiledImage picture, tasks::cutoutPicture(cut, run.executor()));
  return image::writeTiled(path, picture);
}

double peakMegabytes() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return double(usage.ru_maxrss) / 1024;
}

base::Status writeOutputs(Run& run, const MatteOptions& o, const matte::Cut& cut) {
  if (!o.alpha.empty()) HSEAM_DO(image::writeTiled(o.alpha, cut.alpha));
  if (!o.foreground.empty()) HSEAM_DO(image::writeTiled(o.foreground, cut.clean));
  if (!o.cutout.empty()) HSEAM_DO(writeCutout(run, o.cutout, cut));
  return {};
}

Json report(const Run& run, const image::Picture& picture, double undecided) {
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

base::Result<Json> solve(Run& run, const MatteOptions& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  HSEAM_TRY(const image::TiledImage trimap, companion(run, o.trimap, picture.pixels.size(), "a trimap"));
  HSEAM_TRY(const double undecided, matte::undecidedShare(trimap));
  auto solved = run.work(
      [&] { return matte::solveCut(picture.pixels, trimap, {}, image::PixelFormat::grey16, run.executor(), run.progress()); });
  if (!solved.ok()) return solved.error();
  HSEAM_DO(writeOutputs(run, o, *solved));
  Json j = report(run, picture, undecided);
  if (!solved->missing.empty()) j["missing"] = solved->missing;
  return j;
}

// The outline's stretches with their kinds.
base::Result<Json> toldStretches(Run& run, const image::TiledImage& picture, const matte::Cut& cut) {
  HSEAM_TRY(const auto stretches, tasks::stretchesOf(picture, cut, run.executor()));
  Json list = Json::array();
  for (const tasks::ToldStretch& s : stretches) {
    list.push_back({{"kind", matte::nameOf(s.kind)},
                    {"confidence", s.confidence},
                    {"length_px", s.lengthPx},
                    {"from", {s.from.x, s.from.y}},
                    {"to", {s.to.x, s.to.y}}});
  }
  return list;
}

base::Result<Json> cut(Run& run, const MatteOptions& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  HSEAM_TRY(const image::TiledImage selection, companion(run, o.selection, picture.pixels.size(), "a selection"));
  auto made = run.work([&] {
    return matte::wholeCut(picture.pixels, selection, {}, {}, image::PixelFormat::grey16, run.executor(), run.progress());
  });
  if (!made.ok()) return made.error();
  if (!o.band.empty()) HSEAM_DO(image::writeTiled(o.band, made->band));
  HSEAM_DO(writeOutputs(run, o, made->cut));
  HSEAM_TRY(const double undecided, matte::undecidedShare(made->band));
  Json j = report(run, picture, undecided);
  HSEAM_TRY(j["stretches"], toldStretches(run, picture.pixels, made->cut));
  if (!made->cut.missing.empty()) j["missing"] = made->cut.missing;
  j["missed"] = Json::array();
  for (const base::Rect& r : made->missed) j["missed"].push_back({r.x, r.y, r.width, r.height});
  return j;
}

void addOutputs(CLI::App* c, const std::shared_ptr<MatteOptions>& o) {
  c->add_option("--alpha", o->alpha, "write alpha here, 16-bit grey");
  c->add_option("--foreground", o->foreground, "write the subject's own colours here");
  c->add_option("--cutout", o->cutout, "write colours with alpha here");
}

}  // namespace

void addMatte(Commands& commands) {
  auto o = std::make_shared<MatteOptions>();
  CLI::App* c = commands.add("matte", "solve alpha for the undecided pixels of a trimap, and the subject's own colours",
                             [o](Run& run) { return solve(run, *o); });
  c->add_option("image", o->image, "the picture")->required();
  c->add_option("--trimap", o->trimap, "grey picture of its size: under 86 background, over 170 subject, else undecided")
      ->required();
  addOutputs(c, o);
}

void addCut(Commands& commands) {
  auto o = std::make_shared<MatteOptions>();
  CLI::App* c = commands.add("cut", "find the band of a rough selection by itself, solve it and tell what kind of edge is where",
                             [o](Run& run) { return cut(run, *o); });
  c->add_option("image", o->image, "the picture")->required();
  c->add_option("--selection", o->selection, "8-bit grey picture of its size: over 127 is chosen")->required();
  c->add_option("--band", o->band, "write the band here, 8-bit grey: 0 background, 128 undecided, 255 subject");
  addOutputs(c, o);
}

}  // namespace hseam::cli
