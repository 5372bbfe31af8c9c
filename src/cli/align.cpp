// hseam align BASE FRAME... [--out-dir D]

#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/frames/frame.h"
#include "core/frames/light.h"
#include "core/frames/registration.h"
#include "core/image/picture_file.h"

namespace hseam::cli {
namespace {

namespace fs = std::filesystem;

struct AlignOptions {
  std::string base, outDir;
  std::vector<std::string> frames;
};

Json told(const std::string& file, const frames::Registration& r, const frames::LightChange& light, base::Size frame,
          double seconds) {
  const frames::Homography indices = r.toBase.inIndices();
  const frames::Drift drift = frames::driftOf(r.toBase, frame);
  Json j{{"file", file},
         {"dx_px", drift.dx},
         {"dy_px", drift.dy},
         {"rotation_deg", drift.rotationDeg},
         {"scale", drift.scale},
         {"matrix", Json::array()},
         {"landmarks", r.landmarks.size()},
         {"model", r.projective ? "homography" : "similarity"},
         {"residual_px", r.residualPx},
         {"inlier_share", r.inlierShare},
         {"parallax_share", r.parallaxShare},
         {"gain_stops", light.gainStops},
         {"wb_stops", {{"r", light.redStops}, {"b", light.blueStops}}},
         {"wb_mired", light.mired()},
         {"light_known", light.known},
         {"verdict", r.use ? "use" : "leave it out"},
         {"work_s", seconds}};
  for (std::size_t row = 0; row < 3; ++row)
    j["matrix"].push_back({indices.m[row * 3], indices.m[row * 3 + 1], indices.m[row * 3 + 2]});
  if (!r.use) j["reason"] = r.reason;
  return j;
}

// Two frames of one name would lie on each other.
base::Status namesDiffer(const AlignOptions& o) {
  std::vector<std::string> names;
  for (const std::string& f : o.frames) names.push_back(fs::path(f).stem().string());
  std::sort(names.begin(), names.end());
  const auto twice = std::adjacent_find(names.begin(), names.end());
  if (twice == names.end()) return {};
  return base::Error{base::Code::conflict, *twice, "two frames have this name: their outputs would lie on each other"};
}

base::Result<Json> align(Run& run, const AlignOptions& o) {
  if (!o.outDir.empty()) {
    HSEAM_DO(namesDiffer(o));
    std::error_code problem;
    fs::create_directories(o.outDir, problem);
    if (problem) return base::Error{base::Code::unwritable, o.outDir, "cannot be made: " + problem.message()};
  }
  HSEAM_TRY(const image::Picture base, image::readPicture(o.base, run.memory(), run.executor(), {}));
  auto prepared = run.work([&] { return frames::BaseFrame::of(base.pixels, run.executor()); });
  if (!prepared.ok()) return base::Error{prepared.error().code, o.base, prepared.error().detail};
  Json list = Json::array();
  for (std::size_t i = 0; i < o.frames.size(); ++i) {
    const base::Progress progress =
        run.progress().part(double(i) / double(o.frames.size()), double(i + 1) / double(o.frames.size()));
    HSEAM_TRY(const image::Picture frame, image::readPicture(o.frames[i], run.memory(), run.executor(), {}));
    const double before = run.workSeconds();
    auto registration = run.work([&] { return frames::registered(*prepared, frame.pixels, run.executor(), progress); });
    if (!registration.ok()) return registration.error();
    auto light = run.work([&]() -> base::Result<frames::LightChange> {
      if (!registration->found) return frames::LightChange{};
      return frames::lightChange(base.pixels, frame.pixels, registration->toBase);
    });
    if (!light.ok()) return light.error();
    list.push_back(told(o.frames[i], *registration, *light, frame.pixels.size(), run.workSeconds() - before));
    if (o.outDir.empty() || !registration->found) continue;
    HSEAM_TRY(const image::TiledImage laid,
              frames::onBase({frame.pixels, registration->toBase, base.pixels.size(), {}}, run.executor(), {}));
    HSEAM_DO(image::writeTiled((fs::path(o.outDir) / (fs::path(o.frames[i]).stem().string() + ".tif")).string(), laid));
  }
  return Json{{"frames", list}};
}

}  // namespace

void addAlign(Commands& commands) {
  const auto o = std::make_shared<AlignOptions>();
  CLI::App* sub = commands.add(
      "align", "registers frames of one place on the first one: shift, turn, scale, exposure, and whether each is of use",
      [o](Run& run) { return align(run, *o); });
  sub->add_option("base", o->base, "the picture that stays as it is")->required();
  sub->add_option("frames", o->frames, "pictures of the same place")->required();
  sub->add_option("--out-dir", o->outDir, "each frame on the base's pixels, 16-bit TIFF with alpha 0 where it shows nothing");
}

}  // namespace hseam::cli
