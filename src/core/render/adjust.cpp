#include "core/render/adjust.h"

#include <algorithm>
#include <cmath>

namespace hseam::render {
namespace {

constexpr int kSteps = 4096;
constexpr std::size_t kKept = 32;

// The same formula as scene::ColourBalance's, in single precision over planes.
struct BalanceLoop {
  float weightX[3], weightY[3];  // of the tints of darks, mids, lights
  void operator()(const Planes& in, Planes& out) const {
    constexpr float reach = 0.25f;
    const float *r = in.colour(0), *g = in.colour(1), *b = in.colour(2);
    float *ro = out.colour(0), *go = out.colour(1), *bo = out.colour(2);
    for (int i = 0, n = in.count(); i < n; ++i) {
      const float l = 0.3f * r[i] + 0.59f * g[i] + 0.11f * b[i];
      const float t = std::clamp(l, 0.f, 1.f), darks = (1 - t) * (1 - t), mids = 2 * t * (1 - t), lights = t * t;
      const float x = reach * (darks * weightX[0] + mids * weightX[1] + lights * weightX[2]);
      const float y = reach * (darks * weightY[0] + mids * weightY[1] + lights * weightY[2]);
      float c[3] = {r[i] + x + y * (0.11f / 0.89f), g[i] - x * (0.30f / 0.59f) + y * (0.11f / 0.89f), b[i] - y};
      const float low = std::min({c[0], c[1], c[2]}), high = std::max({c[0], c[1], c[2]});
      // A grey of rounding just outside 0..1 has no chroma to shrink.
      if (low < 0 && l > low) {
        for (float& v : c) v = l + (v - l) * l / (l - low);
      }
      if (high > 1 && high > l) {
        for (float& v : c) v = l + (v - l) * (1 - l) / (high - l);
      }
      ro[i] = c[0], go[i] = c[1], bo[i] = c[2];
    }
  }
};

}  // namespace

BakedAdjustment::BakedAdjustment(const scene::Adjustment& a) : adjustment_(a) {
  if (std::holds_alternative<scene::ColourBalance>(a)) return;
  const scene::AdjustmentFunction f(a);
  for (auto& t : tables_) t.resize(kSteps + 2);
  for (int k = 0; k < kSteps + 2; ++k) {
    const double v = std::min(1.0, double(k) / kSteps);
    const auto out = f({v, v, v});
    for (std::size_t c = 0; c < 3; ++c) tables_[c][std::size_t(k)] = float(out[c]);
  }
}

void BakedAdjustment::apply(const Planes& in, Planes& out) const {
  if (const auto* b = std::get_if<scene::ColourBalance>(&adjustment_)) {
    BalanceLoop{{float(b->darks.x), float(b->mids.x), float(b->lights.x)},
                {float(b->darks.y), float(b->mids.y), float(b->lights.y)}}(in, out);
    return;
  }
  for (int c = 0; c < 3; ++c) {
    const float* table = tables_[c].data();
    const float* from = in.colour(c);
    float* to = out.colour(c);
    for (int i = 0, n = in.count(); i < n; ++i) {
      const float at = std::clamp(from[i], 0.f, 1.f) * kSteps;
      const int k = int(at);
      const float w = at - float(k);
      to[i] = table[k] * (1 - w) + table[k + 1] * w;
    }
  }
}

std::shared_ptr<const BakedAdjustment> BakedAdjustments::of(const scene::Adjustment& a) {
  {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const auto& b) { return b->adjustment() == a; });
    if (found != kept_.end()) {
      std::rotate(found, found + 1, kept_.end());
      return kept_.back();
    }
  }
  auto baked = std::make_shared<const BakedAdjustment>(a);
  const std::lock_guard lock(mutex_);
  if (kept_.size() >= kKept) kept_.erase(kept_.begin());
  kept_.push_back(baked);
  return baked;
}

}  // namespace hseam::render
