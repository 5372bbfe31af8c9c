#include "app/stations/match/scene_tones.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"
#include "core/render/renderer.h"

namespace hseam::app {

float toneOf(const float* p, ToneOf which) {
  if (which == ToneOf::luma) return 0.3f * p[0] + 0.59f * p[1] + 0.11f * p[2];
  if (which != ToneOf::lightness) return p[int(which) - int(ToneOf::red)];
  double y = 0;
  constexpr double kWeights[] = {0.2126, 0.7152, 0.0722};
  for (int c = 0; c < 3; ++c) y += kWeights[c] * image::linearFromEncoded(double(p[c]));
  return float(scene::lightnessOfLuminance(y));
}

Histogram tonesOf(const scene::Scene& scene, ToneOf which) {
  Histogram h{};
  int level = 0;
  while ((scene.canvas.width >> level) > 256 || (scene.canvas.height >> level) > 256) ++level;
  base::InlineExecutor here;
  render::Renderer renderer;
  const auto pixels = renderer.render(scene, base::Rect::of(render::canvasAt(scene, level)), level, here);
  if (!pixels.ok()) return h;
  for (std::size_t i = 0; i < pixels->pixels(); ++i) {
    const float* p = pixels->samples().data() + i * 4;
    if (p[3] <= 0) continue;
    const float v = toneOf(p, which);
    h[std::size_t(std::clamp(v, 0.f, 1.f) * 127)] += 1;
  }
  // The tallest peaks are cut, so that one flat sky does not press all the rest to the floor.
  auto sorted = h;
  std::nth_element(sorted.begin(), sorted.begin() + 120, sorted.end());
  const float top = std::max(1.f, sorted[120]);
  for (float& v : h) v = std::min(1.f, v / top);
  return h;
}

}  // namespace hseam::app
