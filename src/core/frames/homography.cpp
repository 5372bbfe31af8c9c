#include "core/frames/homography.h"

#include <cmath>

namespace hseam::frames {

Homography Homography::after(const Homography& f) const {
  Homography out;
  for (std::size_t r = 0; r < 3; ++r) {
    for (std::size_t c = 0; c < 3; ++c) {
      double sum = 0;
      for (std::size_t k = 0; k < 3; ++k) sum += m[r * 3 + k] * f.m[k * 3 + c];
      out.m[r * 3 + c] = sum;
    }
  }
  for (double& v : out.m) v /= out.m[8] == 0 ? 1 : out.m[8];
  out.m[8] = 1;
  return out;
}

Homography Homography::inverse() const {
  const auto& a = m;
  Homography out{{a[4] * a[8] - a[5] * a[7], a[2] * a[7] - a[1] * a[8], a[1] * a[5] - a[2] * a[4],  //
                  a[5] * a[6] - a[3] * a[8], a[0] * a[8] - a[2] * a[6], a[2] * a[3] - a[0] * a[5],  //
                  a[3] * a[7] - a[4] * a[6], a[1] * a[6] - a[0] * a[7], a[0] * a[4] - a[1] * a[3]}};
  const double by = out.m[8];
  for (double& v : out.m) v /= by;
  return out;
}

Homography Homography::inIndices() const {
  const Homography up{{1, 0, 0.5, 0, 1, 0.5, 0, 0, 1}}, down{{1, 0, -0.5, 0, 1, -0.5, 0, 0, 1}};
  return down.after(after(up));
}

// Least squares over a grid of places (Umeyama 1991, in complex numbers: q = a p + b).
Drift driftOf(const Homography& map, base::Size picture) {
  const double cx = picture.width / 2.0, cy = picture.height / 2.0;
  constexpr int kSteps = 8;
  double norm = 0, re = 0, im = 0, qx = 0, qy = 0;
  for (int i = 0; i <= kSteps; ++i) {
    for (int k = 0; k <= kSteps; ++k) {
      const double x = picture.width * (i / double(kSteps) - 0.5), y = picture.height * (k / double(kSteps) - 0.5);
      const base::Point q = map.map({cx + x, cy + y});
      norm += x * x + y * y;
      re += x * (q.x - cx) + y * (q.y - cy);
      im += x * (q.y - cy) - y * (q.x - cx);
      qx += q.x - cx;
      qy += q.y - cy;
    }
  }
  constexpr double kCount = (kSteps + 1) * (kSteps + 1);
  return {qx / kCount, qy / kCount, std::atan2(im, re) * 180 / M_PI, std::hypot(re, im) / norm};
}

}  // namespace hseam::frames
