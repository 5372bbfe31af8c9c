// hseam render PROJECT --out OUT [--width W] and hseam export PROJECT --out OUT [--quality Q] [--long-side N]; an OUT.ora holds
// the layers. With --under-kb KB the best quality that weighs no more; with --weights what several qualities weigh and cost.

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/store/project_file.h"
#include "core/tasks/hand_over.h"

namespace hseam::cli {
namespace {

struct RenderWords {
  std::string project, out;
  tasks::HandOverOptions how;
  bool opaque = false;
  double underKb = 0;
};

Json trialSays(const deliver::Trial& t) {
  const base::Rect& at = t.likeness.worstAt;
  return {{"quality", t.quality},
          {"bytes", t.bytes},
          {"ssim", t.likeness.mean},
          {"worst_ssim", t.likeness.worst},
          {"worst_at", {at.x, at.y, at.width, at.height}}};
}

base::Result<Json> write(Run& run, const RenderWords& o) {
  constexpr double kBytesInKb = 1000;
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(o.project, run.memory(), run.executor()));
  tasks::HandOverOptions how = o.how;
  how.file.keepAlpha = !o.opaque;
  how.mostBytes = std::int64_t(o.underKb * kBytesInKb);
  HSEAM_TRY(const tasks::HandedOver made, run.work([&] {
    return tasks::handOver(opened.history.scene(), o.out, how, run.memory(), run.executor(), run.progress());
  }));
  Json says = {{"width", made.size.width}, {"height", made.size.height}, {"bytes", made.bytes}};
  if (how.mostBytes > 0) says["quality"] = made.quality, says["files_tried"] = made.filesTried;
  for (const deliver::Trial& t : made.weights) says["weights"].push_back(trialSays(t));
  for (const std::string& w : made.warnings) says["warnings"].push_back(w);
  return says;
}

CLI::App* addWriting(Commands& commands, const char* name, const char* description, const std::shared_ptr<RenderWords>& o) {
  CLI::App* c = commands.add(name, description, [o](Run& run) { return write(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--out", o->out, "PNG, JPEG, TIFF, WebP, OpenEXR or OpenRaster by its ending")->required();
  return c;
}

}  // namespace

void addRender(Commands& commands) {
  auto o = std::make_shared<RenderWords>();
  addWriting(commands, "render", "render a project's scene", o)
      ->add_option("--width", o->how.width, "px; not enlarged")
      ->check(CLI::PositiveNumber);
}

void addExport(Commands& commands) {
  auto o = std::make_shared<RenderWords>();
  CLI::App* c = addWriting(commands, "export", "hand a project's picture over", o);
  c->add_option("--quality", o->how.file.quality, "of JPEG and WebP, 1 to 100")->check(CLI::Range(1, 100));
  c->add_option("--under-kb", o->underKb, "kB of 1000 bytes: the best quality of JPEG or WebP that weighs no more")
      ->check(CLI::PositiveNumber)
      ->excludes("--quality");
  c->add_flag("--weights", o->how.weighEveryQuality,
              "tell what JPEG or WebP weighs at several qualities, and how like the picture they stay");
  c->add_option("--long-side", o->how.file.longSide, "px; not enlarged")->check(CLI::PositiveNumber);
  c->add_option("--profile", o->how.file.profile, "an ICC profile of RGB: colours are written in its space (all but OpenEXR)")
      ->check(CLI::ExistingFile);
  c->add_flag("--wide", o->how.file.wide, "16 bit a sample (PNG)");
  c->add_flag("--plate", o->how.plate, "before and after beside each other, with words below");
  o->how.asksPermission = true;
  c->add_flag("--permitted", o->how.answeredFor,
              "hand it over although a permission has lapsed or minors are seen: you answer for it, and it is logged");
  c->add_flag("--opaque", o->opaque, "no alpha; what is empty becomes white");
}

}  // namespace hseam::cli
