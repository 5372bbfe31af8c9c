#include "app/instruments/pick_tool.h"

#include <cmath>

#include "core/render/renderer.h"

namespace hseam::app {

std::optional<std::array<double, 3>> colourAt(base::Executor& executor, const scene::Scene& scene, const QPointF& at) {
  const base::Rect spot =
      base::Rect{int(std::floor(at.x())) - 1, int(std::floor(at.y())) - 1, 3, 3}.intersected(base::Rect::of(scene.canvas));
  if (spot.empty()) return std::nullopt;
  const auto pixels = render::Renderer().render(scene, spot, 0, executor);
  if (!pixels.ok()) return std::nullopt;
  std::array<double, 3> sum{};
  int count = 0;
  for (std::size_t i = 0; i < pixels->pixels(); ++i) {
    const float* p = pixels->samples().data() + i * 4;
    if (p[3] <= 0) continue;
    for (std::size_t c = 0; c < 3; ++c) sum[c] += double(p[c]);
    ++count;
  }
  if (count == 0) return std::nullopt;
  for (double& v : sum) v = std::clamp(v / count, 0.0, 1.0);
  return sum;
}

}  // namespace hseam::app
