#include "core/tasks/fits.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "core/image/level.h"
#include "core/measure/horizon.h"
#include "core/measure/light_direction.h"
#include "core/measure/outline.h"
#include "core/scene/floor.h"
#include "core/tasks/colours.h"

namespace hseam::tasks {
namespace {

using base::Error;
using base::Result;

// By how much two pictures may differ until it is seen at once.
constexpr double kTiltDeg = 3, kLightDeg = 45, kToneL = 25, kLightAb = 14;
constexpr double kLens = 0.4;       // of the angle of view's tangent, as a logarithm
constexpr double kMended = 0.3;     // exposure and colour of light can be changed afterwards, so they weigh less
constexpr double kUsualAngle = 50;  // degrees, where nobody knows

struct Difference {
  double off;
  std::string says;
};

// The camera looks down by so much, from where the horizon lies.
double pitchDeg(double horizonShare, base::Size size, double angleDeg) {
  const double focal = size.width / 2.0 / std::tan(angleDeg * M_PI / 360);
  return std::atan((0.5 - horizonShare) * size.height / focal) * 180 / M_PI;
}

void compareCamera(const ShotFacts& s, const ShotFacts& p, std::vector<Difference>& out) {
  if (s.viewAngleDeg && p.viewAngleDeg) {
    const double off = std::abs(std::log(std::tan(*s.viewAngleDeg * M_PI / 360) / std::tan(*p.viewAngleDeg * M_PI / 360)));
    out.push_back({off / kLens, fmt::format("{} was seen with {:.0f}° across, {} with {:.0f}°: perspective differs", s.name,
                                            *s.viewAngleDeg, p.name, *p.viewAngleDeg)});
  }
  if (s.horizon && p.horizon) {
    const double a = pitchDeg(*s.horizon, s.size, s.viewAngleDeg.value_or(p.viewAngleDeg.value_or(kUsualAngle))),
                 b = pitchDeg(*p.horizon, p.size, p.viewAngleDeg.value_or(s.viewAngleDeg.value_or(kUsualAngle)));
    const auto looks = [](double deg) {
      return std::abs(deg) < 0.5 ? std::string("level") : fmt::format("{:.0f}° {}", std::abs(deg), deg > 0 ? "down" : "up");
    };
    out.push_back({std::abs(a - b) / kTiltDeg,
                   fmt::format("the camera looked {} at {}, {} at {}: the horizons differ", looks(a), s.name, looks(b), p.name)});
  }
}

void compareLight(const ShotFacts& s, const ShotFacts& p, std::vector<Difference>& out) {
  if (s.lightDeg && p.lightDeg) {
    const double off = std::abs(std::remainder(*s.lightDeg - *p.lightDeg, 360.0)),
                 mirrored = std::abs(std::remainder(-*s.lightDeg - *p.lightDeg, 360.0));
    const auto side = [](double deg) {
      const double d = std::remainder(deg, 360.0);
      return std::abs(d) < 20 ? "above" : (std::abs(d) > 160 ? "below" : (d > 0 ? "the right" : "the left"));
    };
    out.push_back({off / kLightDeg,
                   fmt::format("light falls on {} from {}, on {} from {}: {:.0f}° apart{}", s.name, side(*s.lightDeg), p.name,
                               side(*p.lightDeg), off, mirrored < off / 2 ? "; mirrored it would fit better" : "")});
  }
  if (s.midL > 0 && p.midL > 0) {
    const double off = s.midL - p.midL;
    out.push_back({kMended * std::abs(off) / kToneL,
                   fmt::format("{} is {} by {:.0f} L*", s.name, off > 0 ? "lighter" : "darker", std::abs(off))});
  }
  if (s.light.available && p.light.available) {
    const double off = std::hypot(s.light.a - p.light.a, s.light.b - p.light.b);
    out.push_back({kMended * off / kLightAb, fmt::format("the light on {} is {} than on {} by {:.0f} in a* b*", s.name,
                                                         s.light.b > p.light.b ? "warmer" : "cooler", p.name, off)});
  }
}

// As an angle in the picture.
double inPictureDeg(double azimuthDeg, double elevationDeg) {
  const double a = azimuthDeg * M_PI / 180, e = elevationDeg * M_PI / 180;
  return std::atan2(std::cos(e) * std::sin(a), std::sin(e)) * 180 / M_PI;
}

}  // namespace

ShotFacts shotFactsOf(const store::ShelfItem& item) {
  ShotFacts f;
  f.name = item.name;
  f.size = {item.width, item.height};
  if (item.horizonY && item.height > 0) f.horizon = *item.horizonY / item.height;
  f.midL = item.midL;
  if (item.light) f.light = {true, item.light->first, item.light->second, 0};
  if (item.lightFromDeg) f.lightDeg = inPictureDeg(item.lightFromDeg->first, item.lightFromDeg->second);
  return f;
}

Result<ShotFacts> shotFactsOf(const scene::Scene& scene, scene::LayerId picture, const base::Progress& progress) {
  const scene::Layer* l = scene::findLayer(scene, picture);
  if (!l) return Error{base::Code::notFound, "", "the layer is gone"};
  if (!l->picture()) return Error{base::Code::invalid, l->name, "is no picture"};
  constexpr double kPixels = 1e6;
  const scene::PictureContent& p = *l->picture();
  ShotFacts f;
  f.layer = picture;
  f.name = l->name;
  f.size = p.source.size();
  if (p.about.focal35Mm > 0) {
    const double longer = std::max(f.size.width, f.size.height);
    f.viewAngleDeg = 2 * std::atan(f.size.width / 2.0 / (p.about.focal35Mm / 36 * longer)) * 180 / M_PI;
  }
  const int level = levelWithin(p.source, kPixels);
  HSEAM_TRY(image::Raster<float> colours, coloursOf(p.source, level));
  if (progress.cancelled()) return base::cancelledError();
  // A cut-out without its surroundings tells neither the horizon nor the light.
  const bool surroundings = !image::hasAlpha(p.source.format());
  if (p.horizonY) {
    f.horizon = *p.horizonY / f.size.height;
  } else if (surroundings) {
    if (const auto h = measure::horizonOf(colours); h.y.available) f.horizon = h.y.value / colours.height();
  }
  // Of all of the picture: clothes and skin say little of the light that falls on them.
  if (surroundings) {
    const auto all = measure::inside(colours, 0.98f, 0);
    f.light = measure::illuminantOf({colours, all});
  }
  // Of a cut-out the subject counts.
  if (l->mask.acts() && l->mask.coverage.size() == f.size) {
    HSEAM_TRY(const auto cover, image::readFloat(l->mask.coverage, level, base::Rect::of(colours.size())));
    for (std::size_t i = 0; i < cover.pixels(); ++i) colours.samples()[4 * i + 3] *= cover.samples()[i];
  }
  const auto inside = measure::inside(colours, 0.98f, 1);
  const measure::Part part{colours, inside};
  if (const auto mid = measure::tonesOf(measure::populationOf(part, 2)).mid; mid.available) f.midL = mid.value;
  for (const scene::LayerRef& other : scene::allLayers(scene)) {
    const auto* light = other->light();
    if (!light || light->caster != picture) continue;
    const scene::LightFrom* from = nullptr;
    if (const auto* cast = std::get_if<scene::CastShadow>(&light->kind)) from = &cast->light;
    if (const auto* shading = std::get_if<scene::Shading>(&light->kind)) from = &shading->light;
    if (from) f.lightDeg = inPictureDeg(from->azimuthDeg, from->elevationDeg);
  }
  if (!f.lightDeg && (l->mask.acts() || !surroundings)) {
    if (const auto fall = measure::lightDirectionOf(colours, measure::outlineOf(colours)); fall.available)
      f.lightDeg = fall.value;
  }
  return f;
}

HowItFits fitOf(const ShotFacts& subject, const ShotFacts& place) {
  std::vector<Difference> points;
  compareCamera(subject, place, points);
  compareLight(subject, place, points);
  HowItFits out{place.layer, place.name, 0, int(points.size()), {}};
  std::stable_sort(points.begin(), points.end(), [](const Difference& a, const Difference& b) { return a.off > b.off; });
  double sum = 0;
  constexpr double kSaid = 0.5;
  for (const Difference& p : points) {
    sum += std::min(p.off, 4.0) * std::min(p.off, 4.0);
    if (p.off > kSaid) out.reasons.push_back(p.says);
  }
  out.off = std::sqrt(sum);
  if (points.empty()) out.reasons.push_back("nothing is known of both that could be compared");
  return out;
}

std::vector<HowItFits> rankedFor(const ShotFacts& subject, const std::vector<ShotFacts>& places) {
  std::vector<HowItFits> out;
  out.reserve(places.size());
  for (const ShotFacts& p : places) out.push_back(fitOf(subject, p));
  std::stable_sort(out.begin(), out.end(),
                   [](const HowItFits& a, const HowItFits& b) { return a.off != b.off ? a.off < b.off : a.known > b.known; });
  return out;
}

}  // namespace hseam::tasks
