#include "core/tasks/shooting_list.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/html.h"
#include "core/findings/stands_at.h"
#include "core/scene/floor.h"

namespace hseam::tasks {
namespace {

using base::Result;

double degrees(double radians) {
  return radians * 180 / M_PI;
}

// How tall something is whose foot and head are so many px apart; heights and px go together nearly evenly.
std::optional<double> metresOf(const scene::FloorCamera& camera, base::Point foot, double px) {
  double metres = 1.7;
  for (int i = 0; i < 8; ++i) {
    const auto now = scene::heightAtFoot(camera, foot, metres);
    if (!now || *now <= 0) return std::nullopt;
    metres *= px / *now;
  }
  return metres;
}

base::Status standing(const scene::Scene& s, const scene::Layer& l, const scene::FloorCamera& camera, Shot& shot) {
  HSEAM_TRY(const auto stands, findings::standsAt(s, l.id));
  if (!stands) return {};
  const base::Affine toScene = scene::ownToScene(l);
  const base::Point foot = toScene.map(stands->foot);
  const base::Rect covered = base::boundsOf(toScene, stands->covered);
  shot.leastHeightPx = covered.height;
  const auto at = camera.floorAt(foot);
  if (!at) return {};
  shot.distanceM = std::hypot((*at)[0], (*at)[2]);
  shot.asideM = (*at)[0];
  const double noted = l.picture()->realHeightM;
  shot.heightM = noted > 0 ? std::optional(noted) : metresOf(camera, foot, foot.y - covered.y);
  shot.heightShare = double(covered.height) / s.canvas.height;
  return {};
}

std::string metres(const std::optional<double>& m) {
  return m ? fmt::format("{:.1f} m", *m) : std::string("not told");
}

std::string tiltWords(double downDeg) {
  if (std::abs(downDeg) < 0.5) return "level";
  return fmt::format("{:.0f}° {}", std::abs(downDeg), downDeg > 0 ? "down" : "up");
}

std::string lightWords(const PlannedLight& l) {
  constexpr double kHard = 3, kSoft = 15;
  const char* how = l.softnessDeg < kHard ? "hard" : (l.softnessDeg > kSoft ? "soft" : "half soft");
  const double a = std::abs(l.azimuthDeg);
  const std::string side = a < 10    ? "from behind the camera"
                           : a > 170 ? "from ahead, against the camera"
                                     : fmt::format("{:.0f}° round to the {}", a, l.azimuthDeg > 0 ? "right" : "left");
  return fmt::format("{}, {:.0f}° high, {} ({:.0f}° wide)", side, l.elevationDeg, how, l.softnessDeg);
}

const char* const kUsualFloorWords =
    "Nobody has said where the floor lies: a horizon at three eighths of the height and a camera at 1.6 m were taken. Set them "
    "first.";

}  // namespace

Result<ShootingList> shootingList(const scene::Scene& s) {
  ShootingList out;
  out.floorSet = s.floor.has_value();
  const scene::Floor floor = s.floor ? *s.floor : scene::usualFloor(s.canvas);
  const scene::FloorCamera camera(floor, s.canvas);
  Shot common;
  common.cameraHeightM = floor.cameraHeightM;
  common.tiltDownDeg = degrees(std::atan((s.canvas.height / 2.0 - floor.horizonY) / camera.focalPx()));
  constexpr double kLonger = 36;  // mm
  common.focal35Mm = kLonger * camera.focalPx() / std::max(s.canvas.width, s.canvas.height);
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (l->hidden) continue;
    if (const auto* light = l->light()) {
      const auto* cast = std::get_if<scene::CastShadow>(&light->kind);
      const auto* shading = std::get_if<scene::Shading>(&light->kind);
      const scene::LightFrom* from = cast ? &cast->light : (shading ? &shading->light : nullptr);
      const bool known = from && std::any_of(out.lights.begin(), out.lights.end(), [&](const PlannedLight& p) {
                           return std::abs(std::remainder(p.azimuthDeg - from->azimuthDeg, 360.0)) < 1 &&
                                  std::abs(p.elevationDeg - from->elevationDeg) < 1;
                         });
      if (from && !known) out.lights.push_back({l->name, from->azimuthDeg, from->elevationDeg, from->sizeDeg});
      continue;
    }
    const auto* p = l->picture();
    if (!p || p->byHand) continue;
    Shot shot = common;
    shot.name = l->name;
    shot.place = out.shots.empty();
    if (shot.place) {
      shot.leastHeightPx = s.canvas.height;
    } else {
      HSEAM_DO(standing(s, *l, camera, shot));
      if (shot.leastHeightPx == 0) continue;  // it shows nothing
    }
    out.shots.push_back(std::move(shot));
  }
  return out;
}

std::string shootingListText(const ShootingList& list) {
  std::string out = list.floorSet ? "" : std::string(kUsualFloorWords) + "\n";
  for (const Shot& s : list.shots) {
    out += fmt::format("{}: camera {:.2f} m high, {}, {:.0f} mm (on 24 x 36)", s.name, s.cameraHeightM, tiltWords(s.tiltDownDeg),
                       s.focal35Mm);
    if (s.place) out += "; the place itself, empty";
    if (s.distanceM) {
      out += fmt::format("; {} away, {:.1f} m to the {}, {} tall, {:.0f} % of the picture's height", metres(s.distanceM),
                         std::abs(s.asideM), s.asideM < 0 ? "left" : "right", metres(s.heightM), 100 * *s.heightShare);
    } else if (!s.place) {
      out += "; it stands on no floor: distance not told";
    }
    out += fmt::format("; at least {} px high\n", s.leastHeightPx);
  }
  for (const PlannedLight& l : list.lights) out += l.name + ": " + lightWords(l) + "; a frame of its own\n";
  if (list.lights.empty()) out += "No light is set in the scene: cast a shadow there first.\n";
  return out;
}

std::string shootingListHtml(const ShootingList& list, const std::string& title) {
  using base::htmlText;
  std::string h =
      "<!DOCTYPE html><html><head><meta charset=\"utf-8\"><title>" + htmlText(title) +
      "</title><style>body{font-family:Inter,sans-serif;color:#222;margin:2em}table{border-collapse:collapse;width:100%}"
      "td,th{padding:.3em .8em .3em 0;text-align:left;border-bottom:1px solid #ccc}.tick{width:1.2em}</style></head><body><h1>" +
      htmlText(title) + "</h1>";
  if (!list.floorSet) h += "<p>" + htmlText(kUsualFloorWords) + "</p>";
  h += "<table><tr><th></th><th>shot</th><th>camera height</th><th>tilt</th><th>lens (24 × 36)</th><th>distance</th><th>to the "
       "side</th><th>height</th><th>of the picture</th><th>least px</th></tr>";
  for (const Shot& s : list.shots) {
    h += "<tr><td class=\"tick\">☐</td><td>" + htmlText(s.name) + (s.place ? ", empty" : "") +
         fmt::format("</td><td>{:.2f} m</td><td>{}</td><td>{:.0f} mm</td>", s.cameraHeightM, tiltWords(s.tiltDownDeg),
                     s.focal35Mm);
    if (s.distanceM) {
      h += fmt::format("<td>{}</td><td>{:.1f} m {}</td><td>{}</td><td>{:.0f} %</td>", metres(s.distanceM), std::abs(s.asideM),
                       s.asideM < 0 ? "left" : "right", metres(s.heightM), 100 * *s.heightShare);
    } else {
      h += s.place ? "<td></td><td></td><td></td><td></td>" : "<td colspan=\"4\">stands on no floor: not told</td>";
    }
    h += fmt::format("<td>{}</td></tr>", s.leastHeightPx);
  }
  h += "</table><h2>Light: a frame for each</h2>";
  if (list.lights.empty()) h += "<p>No light is set in the scene: cast a shadow there first.</p>";
  for (const PlannedLight& l : list.lights) h += "<p>☐ " + htmlText(l.name) + ": " + lightWords(l) + "</p>";
  return h + "</body></html>";
}

}  // namespace hseam::tasks
