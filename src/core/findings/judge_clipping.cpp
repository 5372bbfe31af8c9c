#include <algorithm>
#include <array>
#include <cmath>

#include "core/findings/judge.h"
#include "core/render/renderer.h"
#include "core/scene/edit.h"

namespace hseam::findings {
namespace {

// Values that an 8-bit file would have at its ends.
constexpr float kLow = 0.5f / 255, kHigh = 1 - kLow;

constexpr double kFinderPx = 200'000;  // that the remedy looks at
constexpr int kHalvings = 7;

// Of the layer's confined adjustments: the one that clips most, as weak as it must be.
base::Result<scene::Edit> weaker(const scene::Scene& scene, scene::LayerId id, double allowed, base::Executor& executor) {
  int level = 0;
  while (double(scene.canvas.width) * scene.canvas.height / std::pow(4.0, level) > kFinderPx) ++level;
  const base::Rect whole = base::Rect::of(render::canvasAt(scene, level));
  const auto bare = withoutConfined(alone(scene, id), id);
  HSEAM_TRY(const auto before, render::Renderer().render(bare, whole, level, executor));
  const auto clipped = [&](scene::LayerId adjustment, double opacity) -> base::Result<double> {
    HSEAM_TRY(const scene::Scene tried, scene::apply(scene, scene::SetOpacity{adjustment, opacity}));
    HSEAM_TRY(const auto after, render::Renderer().render(alone(tried, id), whole, level, executor));
    return clippedMore(before, after);
  };
  std::optional<scene::LayerId> worst;
  double least = 2;
  for (const scene::LayerId each : confinedTo(scene, id)) {
    HSEAM_TRY(const double left, clipped(each, 0));
    if (left < least) least = left, worst = each;
  }
  if (!worst) return base::Error{base::Code::notFound, "", "nothing is confined to the layer any more"};
  double low = 0, high = scene::findLayer(scene, *worst)->opacity;
  for (int i = 0; i < kHalvings; ++i) {
    const double middle = (low + high) / 2;
    HSEAM_TRY(const double now, clipped(*worst, middle));
    (100 * now <= allowed ? low : high) = middle;
  }
  return scene::Edit(scene::SetOpacity{*worst, low});
}

}  // namespace

double clippedMore(const image::Raster<float>& before, const image::Raster<float>& after) {
  std::array<std::int64_t, 6> more{};
  std::int64_t covered = 0;
  for (std::size_t i = 0; i < before.pixels(); ++i) {
    const float *b = before.samples().data() + 4 * i, *a = after.samples().data() + 4 * i;
    if (b[3] < 0.98f) continue;
    ++covered;
    for (std::size_t k = 0; k < 3; ++k) {
      more[2 * k] += (a[k] <= kLow) - (b[k] <= kLow);
      more[2 * k + 1] += (a[k] >= kHigh) - (b[k] >= kHigh);
    }
  }
  return covered == 0 ? 0 : double(std::max<std::int64_t>(0, *std::max_element(more.begin(), more.end()))) / double(covered);
}

void judgeClipping(const Case& c) {
  Verdict v = c.begin(KindId::clipping);
  v.available = true;
  v.reading = 100 * c.specimen.clipped.value_or(0);
  v.excess = v.reading / v.tolerance;
  if (v.out()) {
    v.sentence = {Says::clipped, c.layer.name, v.reading};
    const scene::LayerId id = c.layer.id;
    const double allowed = 0.8 * v.tolerance;
    v.remedies.push_back({RemedyId::weaker, Says::weakenAdjustment,
                          [id, allowed](const scene::Scene& s, base::Executor& e) { return weaker(s, id, allowed, e); }});
  }
  c.add(std::move(v));
}

}  // namespace hseam::findings
