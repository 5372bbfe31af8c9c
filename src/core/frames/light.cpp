#include "core/frames/light.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "core/image/level.h"
#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

using image::Raster;
using image::TiledImage;

constexpr double kComparePixels = 4e5;
constexpr float kDark = 0.14f, kBright = 0.94f;  // encoded; beyond, noise or the sensor's end decides

// Where most values lie: the densest window, then the mean of what lies in it, twice.
double mode(std::vector<double> v, double window) {
  std::sort(v.begin(), v.end());
  std::size_t best = 0, at = 0, end = 0;
  for (std::size_t i = 0; i < v.size(); ++i) {
    while (end < v.size() && v[end] < v[i] + window) ++end;
    if (end - i > best) best = end - i, at = i;
  }
  double centre = v[at] + window / 2;
  for (int round = 0; round < 4; ++round) {
    double sum = 0;
    int n = 0;
    for (auto it = std::lower_bound(v.begin(), v.end(), centre - window); it != v.end() && *it < centre + window; ++it)
      sum += *it, ++n;
    if (n > 0) centre = sum / n;
  }
  return centre;
}

}  // namespace

double LightChange::mired() const {
  const double r = std::exp2(redStops), b = std::exp2(blueStops);
  const double x = 0.4124564 * r + 0.3575761 + 0.1804375 * b, y = 0.2126729 * r + 0.7151522 + 0.0721750 * b,
               z = 0.0193339 * r + 0.1191920 + 0.9503041 * b;
  const auto ofWhite = [](double X, double Y, double Z) {
    const double cx = X / (X + Y + Z), cy = Y / (X + Y + Z), n = (cx - 0.3320) / (0.1858 - cy);
    return 1e6 / (449 * n * n * n + 3525 * n * n + 6823.3 * n + 5520.33);
  };
  return ofWhite(x, y, z) - ofWhite(0.9504700, 1, 1.0888300);
}

base::Result<LightChange> lightChange(const TiledImage& base, const TiledImage& frame, const Homography& toBase) {
  const int lb = image::levelOfAtMost(base, kComparePixels), lf = image::levelOfAtMost(frame, kComparePixels);
  HSEAM_TRY(const Raster<float> b, image::readFloat(base, lb, base::Rect::of(base.level(lb).size)));
  HSEAM_TRY(const Raster<float> f, image::readFloat(frame, lf, base::Rect::of(frame.level(lf).size)));
  const double kb = double(1 << lb), kf = double(1 << lf);
  const Homography toFrame = toBase.inverse();
  const int cb = b.channels(), cf = f.channels();
  // Places in the middle of even surroundings: there a fraction of a pixel does not matter.
  std::vector<std::array<double, 3>> ratios;
  for (int y = 2; y + 2 < b.height(); y += 2) {
    for (int x = 2; x + 2 < b.width(); x += 2) {
      const base::Point p = toFrame.map({(x + 0.5) * kb, (y + 0.5) * kb});
      const double u = p.x / kf - 0.5, v = p.y / kf - 0.5;
      const int ix = int(std::floor(u)), iy = int(std::floor(v));
      if (ix < 1 || iy < 1 || ix + 2 >= f.width() || iy + 2 >= f.height()) continue;
      const float wx = float(u - ix), wy = float(v - iy);
      std::array<double, 3> ratio{};
      bool fair = true;
      for (int c = 0; c < 3 && fair; ++c) {
        const int own = std::min(c, cb - 1), other = std::min(c, cf - 1);
        const float here = b.at(x, y)[own], left = b.at(x - 1, y)[own], below = b.at(x, y + 1)[own];
        const auto lin = [&](int dx, int dy) { return image::fastLinear(f.at(ix + dx, iy + dy)[other]); };
        const float there = (1 - wy) * ((1 - wx) * lin(0, 0) + wx * lin(1, 0)) + wy * ((1 - wx) * lin(0, 1) + wx * lin(1, 1));
        const float thereEncoded = image::fastEncoded(there);
        fair = here > kDark && here < kBright && thereEncoded > kDark && thereEncoded < kBright &&
               std::abs(here - left) < 0.06f && std::abs(here - below) < 0.06f;
        ratio[std::size_t(c)] = std::log2(double(there) / double(image::fastLinear(here)));
      }
      if (fair) ratios.push_back(ratio);
    }
  }
  LightChange out;
  if (ratios.size() < 200) return out;
  constexpr double kWindow = 0.12;  // stops
  const auto column = [&](auto of) {
    std::vector<double> v;
    v.reserve(ratios.size());
    for (const auto& r : ratios) v.push_back(of(r));
    return v;
  };
  out.gainStops = mode(column([](const auto& r) { return r[1]; }), kWindow);
  // Colour from what agrees with the exposure.
  std::erase_if(ratios, [&](const auto& r) { return std::abs(r[1] - out.gainStops) > 2 * kWindow; });
  out.redStops = mode(column([](const auto& r) { return r[0] - r[1]; }), kWindow);
  out.blueStops = mode(column([](const auto& r) { return r[2] - r[1]; }), kWindow);
  std::erase_if(ratios, [&](const auto& r) {
    return std::abs(r[0] - r[1] - out.redStops) > 2 * kWindow || std::abs(r[2] - r[1] - out.blueStops) > 2 * kWindow;
  });
  out.known = ratios.size() >= 200;
  return out;
}

}  // namespace hseam::frames
