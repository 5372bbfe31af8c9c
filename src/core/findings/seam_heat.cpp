#include "core/findings/seam_heat.h"

#include <algorithm>
#include <cmath>

#include "core/findings/kinds.h"
#include "core/matte/edge_readings.h"
#include "core/matte/unrolled.h"

namespace hseam::findings {
namespace {

constexpr int kBlock = 256;                 // places read at once
constexpr int kSmoothPx = 24;               // of arc
constexpr float kLeastDifferencePx = 0.7f;  // widths that differ by less are alike

// The middle of the cut's own softness where it is solid; 0: it is nowhere.
float usualSoftness(const std::vector<matte::EdgeReading>& all) {
  std::vector<float> solid;
  for (const matte::EdgeReading& r : all) {
    if (r.kind == matte::EdgeKind::solid && r.softnessPx > 0) solid.push_back(r.softnessPx);
  }
  if (solid.size() < 40) return 0;
  std::nth_element(solid.begin(), solid.begin() + long(solid.size() / 2), solid.end());
  return std::max(1.f, solid[solid.size() / 2]);
}

}  // namespace

base::Result<std::vector<HeatPlace>> seamHeat(const scene::Scene& scene, scene::LayerId id, int stepPx,
                                              const std::stop_token& stop) {
  std::vector<HeatPlace> out;
  const scene::Layer* layer = scene::findLayer(scene, id);
  if (!layer) return base::Error{base::Code::notFound, "", "the layer is gone"};
  const auto* picture = layer->picture();
  if (!picture || !layer->mask.acts()) return out;
  HSEAM_TRY(const matte::Unrolled outline, matte::unrolled(layer->mask.coverage));
  const int count = int(outline.places.size());
  std::vector<matte::EdgeReading> readings;
  readings.reserve(outline.places.size());
  for (int first = 0; first < count; first += kBlock) {
    if (stop.stop_requested()) return base::cancelledError();
    HSEAM_TRY(const auto block, matte::edgeReadings(outline, first, std::min(kBlock, count - first), layer->mask.coverage,
                                                    picture->shown(), picture->source));
    readings.insert(readings.end(), block.begin(), block.end());
  }
  const double halo = toleranceOf(kindOf(KindId::halo), scene.judging.get()),
               soft = std::log(toleranceOf(kindOf(KindId::edgeSoftness), scene.judging.get()));
  const float usual = usualSoftness(readings);
  std::vector<float> heat(readings.size());
  for (std::size_t i = 0; i < heat.size(); ++i) {
    const matte::EdgeReading& r = readings[i];
    heat[i] = float(double(r.halo) / halo);
    const bool unlike =
        usual > 0 && r.kind == matte::EdgeKind::solid && r.softnessPx > 0 && std::abs(r.softnessPx - usual) > kLeastDifferencePx;
    if (unlike) heat[i] = std::max(heat[i], float(std::abs(std::log(double(std::max(1.f, r.softnessPx) / usual))) / soft));
  }
  const base::Size size = picture->source.size();
  const base::Affine toScene = picture->placement.toScene(size);
  for (int i = 0; i < count; i += std::max(1, stepPx)) {
    const matte::Unrolled::Place& place = outline.places[std::size_t(i)];
    float sum = 0, n = 0;
    for (int k = std::max(0, i - kSmoothPx / 2); k < std::min(count, i + kSmoothPx / 2); ++k) {
      if (outline.places[std::size_t(k)].outline == place.outline) sum += heat[std::size_t(k)], n += 1;
    }
    out.push_back({toScene.map(picture->warp ? scene::mapped(*picture->warp, size, place.at) : place.at), sum / std::max(1.f, n),
                   place.outline});
  }
  return out;
}

}  // namespace hseam::findings
