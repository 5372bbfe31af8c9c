#include "app/ribbon/scene_strip.h"

#include <cmath>
#include <map>

#include "core/render/blocks.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

// Single samples of a scene: the blocks that they fall into are rendered once.
class SceneSamples {
 public:
  explicit SceneSamples(const scene::Scene& scene) : scene_(scene) {}

  base::Result<std::array<float, 3>> at(double x, double y) {
    const int px = int(std::floor(x)), py = int(std::floor(y));
    if (!base::Rect::of(scene_.canvas).contains(px, py)) return std::array<float, 3>{0, 0, 0};
    constexpr int kSide = render::kBlockSide;
    const std::pair<int, int> key(px / kSide, py / kSide);
    auto found = blocks_.find(key);
    if (found == blocks_.end()) {
      base::InlineExecutor here;
      HSEAM_TRY(auto block, renderer_.render(scene_, {key.first * kSide, key.second * kSide, kSide, kSide}, 0, here));
      found = blocks_.emplace(key, std::move(block)).first;
    }
    const float* c = found->second.at(px % kSide, py % kSide);
    return std::array<float, 3>{c[0] * c[3], c[1] * c[3], c[2] * c[3]};
  }

 private:
  const scene::Scene& scene_;
  render::Renderer renderer_;
  std::map<std::pair<int, int>, image::Raster<float>> blocks_;
};

}  // namespace

base::Result<image::Raster<std::uint8_t>> sceneStrip(const matte::Unrolled& outline, int first, int count, int reach,
                                                     const scene::Scene& scene, scene::LayerId layer) {
  image::Raster<std::uint8_t> strip(count, 2 * reach + 1, 3);
  const scene::Layer* l = scene::findLayer(scene, layer);
  if (!l || !l->picture()) return strip;
  const base::Affine toScene = l->picture()->placement.toScene(l->picture()->source.size());
  SceneSamples samples(scene);
  for (int i = 0; i < count; ++i) {
    const auto& p = outline.places[std::size_t(first + i)];
    for (int row = 0; row <= 2 * reach; ++row) {
      const double d = reach - row;
      const base::Point at = toScene.map({p.at.x + p.outward.x * d, p.at.y + p.outward.y * d});
      HSEAM_TRY(const auto colour, samples.at(at.x, at.y));
      for (std::size_t c = 0; c < 3; ++c) strip.at(i, row)[c] = std::uint8_t(std::lround(std::clamp(colour[c], 0.f, 1.f) * 255));
    }
  }
  return strip;
}

}  // namespace hseam::app
