// hseam render PROJECT --out OUT [--width W] and hseam export PROJECT --out OUT [--quality Q] [--long-side N]; an OUT.ora holds
// the layers

#include <CLI/CLI.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/deliver/export.h"
#include "core/deliver/layered.h"
#include "core/store/project_file.h"

namespace hseam::cli {
namespace {

struct RenderOptions {
  std::string project, out;
  int width = 0, longSide = 0, quality = 92;
  bool wide = false, opaque = false;
};

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
  const auto written = run.work([&] { return deliver::exportScene(s, o.out, e, run.executor(), run.progress()); });
  if (!written.ok()) return written.error();
  const base::Size size = deliver::exportSize(s.canvas, e.longSide);
  return Json{{"width", size.width}, {"height", size.height}, {"bytes", std::filesystem::file_size(o.out)}};
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
  c->add_option("--long-side", o->longSide, "px; not enlarged")->check(CLI::PositiveNumber);
  c->add_flag("--wide", o->wide, "16 bit a sample (PNG)");
  c->add_flag("--opaque", o->opaque, "no alpha; what is empty becomes white");
}

}  // namespace hseam::cli
