// hseam plan PROJECT [--out LIST.html|LIST.txt]

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/base/whole_file.h"
#include "core/store/project_file.h"
#include "core/tasks/shooting_list.h"

namespace hseam::cli {
namespace {

struct PlanWords {
  std::string project, out;
};

Json shotJson(const tasks::Shot& s) {
  Json j = {{"name", s.name},
            {"place", s.place},
            {"camera_height_m", s.cameraHeightM},
            {"tilt_down_deg", s.tiltDownDeg},
            {"focal_35mm", s.focal35Mm},
            {"least_height_px", s.leastHeightPx}};
  if (s.distanceM) j["distance_m"] = *s.distanceM, j["aside_m"] = s.asideM;
  if (s.heightM) j["height_m"] = *s.heightM;
  if (s.heightShare) j["height_share"] = *s.heightShare;
  return j;
}

base::Result<Json> plan(Run& run, const PlanWords& o) {
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(o.project, run.memory(), run.executor()));
  HSEAM_TRY(const tasks::ShootingList list, run.work([&] { return tasks::shootingList(opened.history.scene()); }));
  const std::string text = tasks::shootingListText(list);
  if (!o.out.empty()) {
    const bool page = o.out.ends_with(".html");
    if (!page && !o.out.ends_with(".txt"))
      return base::Error{base::Code::unsupported, o.out, "the name must end in .html or .txt"};
    HSEAM_DO(base::writeWhole(o.out, page ? tasks::shootingListHtml(list, "Shots") : text));
  }
  Json j = {{"floor_set", list.floorSet}, {"shots", Json::array()}, {"lights", Json::array()}, {"text", text}};
  for (const tasks::Shot& s : list.shots) j["shots"].push_back(shotJson(s));
  for (const tasks::PlannedLight& l : list.lights) {
    j["lights"].push_back(
        {{"name", l.name}, {"azimuth_deg", l.azimuthDeg}, {"elevation_deg", l.elevationDeg}, {"softness_deg", l.softnessDeg}});
  }
  return j;
}

}  // namespace

void addPlan(Commands& commands) {
  auto o = std::make_shared<PlanWords>();
  CLI::App* c =
      commands.add("plan", "how each part of a planned scene has to be photographed", [o](Run& run) { return plan(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--out", o->out, "a list to be printed, .html or .txt");
}

}  // namespace hseam::cli
