#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/remedies.h"
#include "core/image/lab.h"
#include "core/measure/light_direction.h"
#include "core/scene/adjustment_kinds.h"

namespace hseam::findings {
namespace {

// The angle in the picture that lightDirectionOf reads; nothing: a light from straight ahead or behind has no side.
std::optional<double> pictureAngleOf(const scene::LightFrom& from) {
  const double a = from.azimuthDeg * M_PI / 180, e = from.elevationDeg * M_PI / 180;
  if (std::hypot(std::sin(a) * std::cos(e), std::sin(e)) < 0.3) return std::nullopt;
  return std::atan2(std::sin(a) * std::cos(e), std::sin(e)) * 180 / M_PI;
}

// From where the scene's light comes: that of the place, else of shadows that are cast and shaded forms the middle one; nothing:
// no light is known, or they disagree.
std::optional<std::pair<double, scene::LightFrom>> sceneLight(const scene::Scene& s) {
  std::optional<std::pair<double, scene::LightFrom>> light;
  if (const auto place = scene::lightOf(s)) {
    if (const auto deg = pictureAngleOf(*place)) light = {*deg, *place};
    return light;
  }
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (l->hidden || !l->light()) continue;
    const auto* cast = std::get_if<scene::CastShadow>(&l->light()->kind);
    const auto* shading = std::get_if<scene::Shading>(&l->light()->kind);
    if (!cast && !shading) continue;
    const scene::LightFrom& from = cast ? cast->light : shading->light;
    const auto deg = pictureAngleOf(from);
    if (!deg) continue;
    if (light && std::abs(std::remainder(*deg - light->first, 360.0)) > 20) return std::nullopt;
    light = {*deg, from};
  }
  return light;
}

Says side(double deg) {
  constexpr Says kSides[] = {Says::fromAbove, Says::fromUpperRight, Says::fromRight, Says::fromLowerRight,
                             Says::fromBelow, Says::fromLowerLeft,  Says::fromLeft,  Says::fromUpperLeft};
  return kSides[(int(std::lround(deg / 45)) % 8 + 8) % 8];
}

Remedy mirrored(scene::LayerId id) {
  return {RemedyId::mirror, Says::mirrorIt, [id](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, id);
            if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
            scene::Placement at = l->picture()->placement;
            at.flipX = !at.flipX;
            at.rotationDeg = -at.rotationDeg;
            return scene::Edit(scene::SetPlacement{id, at});
          }};
}

Remedy shaded(scene::LayerId id, const scene::LightFrom& from) {
  return {RemedyId::shade, Says::shadeIt, [id, from](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const auto at = scene::positionOf(s, id);
            const scene::Layer* l = scene::findLayer(s, id);
            if (!at || !l) return base::Error{base::Code::notFound, "", "the layer is gone"};
            scene::Layer light;
            light.id = scene::freeId(s);
            light.name = "shading of " + l->name;
            light.mode = scene::BlendMode::softLight;
            light.clip = true;
            scene::Shading shading;
            shading.light = from;
            light.content = scene::LightContent{id, shading};
            return scene::Edit(scene::AddLayer{std::move(light), at->parent, at->index + 1});
          }};
}

}  // namespace

void judgeLight(const Case& c) {
  Verdict v = c.begin(KindId::lightDirection);
  const auto scene = sceneLight(c.scene);
  const measure::Reading own =
      scene ? measure::lightDirectionOf(c.specimen.tones.own, measure::outlineOf(c.specimen.tones.own)) : measure::Reading{};
  if (!scene) {
    v.reason = !c.scene.light ? Says::lightNotSet : (c.scene.light->casts ? Says::lightHasNoSide : Says::noShadowsThere);
  } else if (!own.available) {
    v.reason = own.reason;
  } else {
    v.available = true;
    v.reading = std::remainder(own.value - scene->first, 360.0);
    v.spread = own.spread;
    v.excess = std::abs(v.reading) / v.tolerance;
    if (v.out()) {
      v.sentence = {Says::lightFromElsewhere, c.layer.name, side(own.value), side(scene->first), Figure{std::abs(v.reading), 0}};
      if (std::abs(std::remainder(-own.value - scene->first, 360.0)) <= v.tolerance) {
        v.remedies.push_back(mirrored(c.layer.id));
        v.remedies.back().onlyAsked = Says::wouldMirror;
      }
      v.remedies.push_back(shaded(c.layer.id, scene->second));
    }
  }
  c.add(std::move(v));
}

void judgeVeil(const Case& c) {
  // What is multiplied should be exactly white where it is paper, or it dims all that it lies on.
  const measure::Population p = measure::populationOf({c.specimen.tones.own, c.specimen.tones.inside});
  Verdict v = c.begin(KindId::paperVeil);
  constexpr std::size_t kFew = 500;
  constexpr double kEven = 4, kPaper = 75;
  const double middle = p.size() < kFew ? 0 : double(measure::quantile(p.l, 0.6)),
               high = p.size() < kFew ? 100 : double(measure::quantile(p.l, 0.95));
  if (high - middle > kEven || middle < kPaper) {
    v.reason = Says::littlePaper;
  } else {
    v.available = true;
    v.reading = 100 - middle;
    v.excess = v.reading / v.tolerance;
    if (v.out()) {
      v.sentence = {Says::veil, c.layer.name, middle, v.reading};
      std::vector<float> channels[3];
      const auto& own = c.specimen.tones.own;
      for (std::size_t i = 0; i < own.pixels(); ++i) {
        if (c.specimen.tones.inside.samples()[i] == 0) continue;
        for (std::size_t k = 0; k < 3; ++k) channels[k].push_back(own.samples()[4 * i + k]);
      }
      scene::ParametricAdjustment n = scene::parametric(scene::AdjustmentId::slope);
      const char* const kSlopes[] = {"slopeRed", "slopeGreen", "slopeBlue"};
      for (std::size_t k = 0; k < 3; ++k)
        n = with(n, kSlopes[k], 1 / std::max(0.3, double(measure::quantile(std::move(channels[k]), 0.5))));
      v.remedies.push_back(confined(RemedyId::whitePaper, Says::whitenPaper, c.layer.id, n));
    }
  }
  c.add(std::move(v));
}

}  // namespace hseam::findings
