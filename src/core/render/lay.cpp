#include "core/render/lay.h"

#include "core/image/transfer.h"

namespace hseam::render {
namespace {

using scene::Mixing;

// Between two straight colours with weights that need not sum to 1; total > 0.
float between(float cb, float wb, float cx, float wx, float inverseTotal, Mixing mixing, const image::TransferTables& t) {
  if (mixing == Mixing::encoded) return (wb * cb + wx * cx) * inverseTotal;
  return image::fastEncoded((wb * image::fastLinear(cb, t) + wx * image::fastLinear(cx, t)) * inverseTotal, t);
}

}  // namespace

void layDown(Planes& backdrop, const Planes& source, const Planes& blended, float o, Mixing mixing) {
  const auto& t = image::transferTables();
  float *r = backdrop.colour(0), *g = backdrop.colour(1), *b = backdrop.colour(2), *alpha = backdrop.alpha();
  const float* coverage = source.alpha();
  for (int i = 0, n = backdrop.count(); i < n; ++i) {
    const float a = coverage[i];
    if (a <= 0) continue;
    const float ab = alpha[i];
    const float ax = o + ab * (1 - o);
    if (ax <= 0) continue;
    const float cb[3] = {r[i], g[i], b[i]};
    float x[3];
    for (int c = 0; c < 3; ++c) {
      const float cs = source.colour(c)[i], bl = blended.colour(c)[i];
      x[c] = (o * ((1 - ab) * cs + ab * bl) + (1 - o) * ab * cb[c]) / ax;
    }
    if (a < 1) {
      const float wb = (1 - a) * ab, wx = a * ax, total = wb + wx;
      alpha[i] = total;
      if (wb > 0) {
        const float inverse = 1 / total;
        for (int c = 0; c < 3; ++c) x[c] = between(cb[c], wb, x[c], wx, inverse, mixing, t);
      }
    } else {
      alpha[i] = ax;
    }
    r[i] = x[0], g[i] = x[1], b[i] = x[2];
  }
}

void layAdjustment(Planes& backdrop, const Planes& source, const Planes& blended, float o, Mixing mixing) {
  const auto& t = image::transferTables();
  for (int i = 0, n = backdrop.count(); i < n; ++i) {
    const float a = source.alpha()[i];
    if (a <= 0 || backdrop.alpha()[i] <= 0) continue;
    for (int c = 0; c < 3; ++c) {
      float& cb = backdrop.colour(c)[i];
      const float x = (1 - o) * cb + o * blended.colour(c)[i];
      cb = a < 1 ? between(cb, 1 - a, x, a, 1.f, mixing, t) : x;
    }
  }
}

}  // namespace hseam::render
