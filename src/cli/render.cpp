// hseam render PROJECT --out OUT [--width W] and hseam export PROJECT --out OUT [--quality Q] [--long-side N]; an OUT.ora holds
// the layers. With --under-kb KB the best quality that weighs no more; with --weights what several qualities weigh and cost.

#include <CLI/CLI.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/deliver/export.h"
#include "core/deliver/layered.h"
#include "core/deliver/weights.h"
#include "core/store/project_file.h"

namespace hseam::cli {
namespace {

struct RenderOptions {
  std::string project, out;
  int width = 0, longSide = 0, quality = 92;
  bool wide = false, opaque = false;
  double under = 0;  // kB; 0: by quality
  bool weights = false;
};

constexpr double kBytesInKb = 1000;

Json trialSays(const deliver::Trial& t) {
  const base::Rect& at = t.likeness.worstAt;
  return {{"quality", t.quality},
          {"bytes", t.bytes},
          {"ssim", t.likeness.mean},
          {"worst_ssim", t.likeness.worst},
          {"worst_at", {at.x, at.y, at.width, at.height}}};
}

// The quality by which a file is written, and what was found out on the way.
base::Status chooseQuality(Run& run, const scene::Scene& s, const RenderOptions& o, deliver::ExportOptions& e, Json& says) {
  if (o.under <= 0 && !o.weights) return {};
  HSEAM_TRY(const auto picture, deliver::encodable(s, e, run.executor(), run.progress().part(0, 0.4)));
  if (o.under > 0) {
    HSEAM_TRY(const auto found, deliver::bestUnder(picture, std::int64_t(o.under * kBytesInKb), run.progress().part(0.4, 0.6)));
    e.quality = found.quality;
    says["quality"] = found.quality;
    says["files_tried"] = found.files;
  }
  if (o.weights) {
    for (const int quality : deliver::kUsualQualities) {
      HSEAM_TRY(const auto t, deliver::trialAt(picture, quality, run.executor(), {}));
      says["weights"].push_back(trialSays(t));
    }
  }
  return {};
}

base::Result<Json> write(Run& run, const RenderOptions& o) {
  const bool layered = std::filesystem::path(o.out).extension() == ".ora";
  const auto kind = image::fileKindOf(o.out);
  if (!kind && !layered)
    return base::Error{base::Code::unsupported, o.out, "the name must end in .png, .jpg, .tif, .webp, .exr or .ora"};
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(o.project, run.memory(), run.executor()));
  const scene::Scene& s = opened.history.scene();
  if (layered) {
    HSEAM_TRY(const auto warnings, run.work([&] { return deliver::exportLayered(s, o.out, run.executor(), run.progress()); }));
    Json j = {{"width", s.canvas.width}, {"height", s.canvas.height}, {"bytes", std::filesystem::file_size(o.out)}};
    for (const std::string& w : warnings) j["warnings"].push_back(w);
    return j;
  }
  deliver::ExportOptions e{*kind, o.longSide, o.quality, !o.opaque, o.wide};
  if (o.width > 0) e.longSide = int(std::lround(double(o.width) * std::max(s.canvas.width, s.canvas.height) / s.canvas.width));
  Json says = Json::object();
  const auto written = run.work([&]() -> base::Status {
    HSEAM_DO(chooseQuality(run, s, o, e, says));
    return deliver::exportScene(s, o.out, e, run.executor(), run.progress());
  });
  if (!written.ok()) return written.error();
  const base::Size size = deliver::exportSize(s.canvas, e.longSide);
  says["width"] = size.width;
  says["height"] = size.height;
  says["bytes"] = std::filesystem::file_size(o.out);
  return says;
}

}  // namespace

void addRender(Commands& commands) {
  auto o = std::make_shared<RenderOptions>();
  CLI::App* c = commands.add("render", "render a project's scene", [o](Run& run) { return write(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--out", o->out, "PNG, JPEG, TIFF, WebP, OpenEXR or OpenRaster by its ending")->required();
  c->add_option("--width", o->width, "px; not enlarged")->check(CLI::PositiveNumber);
}

void addExport(Commands& commands) {
  auto o = std::make_shared<RenderOptions>();
  CLI::App* c = commands.add("export", "hand a project's picture over", [o](Run& run) { return write(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--out", o->out, "PNG, JPEG, TIFF, WebP, OpenEXR or OpenRaster by its ending")->required();
  c->add_option("--quality", o->quality, "of JPEG and WebP, 1 to 100")->check(CLI::Range(1, 100));
  c->add_option("--under-kb", o->under, "kB of 1000 bytes: the best quality of JPEG or WebP that weighs no more")
      ->check(CLI::PositiveNumber)
      ->excludes("--quality");
  c->add_flag("--weights", o->weights, "tell what JPEG or WebP weighs at several qualities, and how like the picture they stay");
  c->add_option("--long-side", o->longSide, "px; not enlarged")->check(CLI::PositiveNumber);
  c->add_flag("--wide", o->wide, "16 bit a sample (PNG)");
  c->add_flag("--opaque", o->opaque, "no alpha; what is empty becomes white");
}

}  // namespace hseam::cli
