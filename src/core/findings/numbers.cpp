#include "core/findings/numbers.h"

#include <algorithm>

namespace hseam::findings {
namespace {

constexpr std::size_t kDots = 400;
constexpr std::size_t kEnough = 2000;

LayerNumbers::Side sideOf(const image::Raster<float>& colours, const image::Raster<std::uint8_t>& counts) {
  LayerNumbers::Side s;
  measure::Population p = measure::populationOf({colours, counts}, 2);
  if (p.size() == 0) return s;
  const std::size_t step = std::max<std::size_t>(1, p.size() / kDots);
  for (std::size_t i = step / 2; i < p.size() && s.colours.size() < kDots; i += step) s.colours.push_back({p.a[i], p.b[i]});
  std::sort(p.l.begin(), p.l.end());
  for (int k = 0; k < LayerNumbers::kShares; ++k)
    s.lightness[std::size_t(k)] = p.l[std::size_t(double(k) / (LayerNumbers::kShares - 1) * double(p.size() - 1))];
  return s;
}

}  // namespace

LayerNumbers numbersOf(const Specimen& specimen, scene::LayerId layer, const measure::Grain& own, const measure::Grain& scene) {
  const Pair& t = specimen.tones;
  const auto around = std::size_t(std::count_if(t.ring.samples().begin(), t.ring.samples().end(), [](auto v) { return v != 0; }));
  LayerNumbers n{layer, sideOf(t.own, t.inside), sideOf(t.scene, around >= kEnough ? t.ring : t.whole)};
  n.own.grain = own;
  n.scene.grain = scene;
  return n;
}

}  // namespace hseam::findings
