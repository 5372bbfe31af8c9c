#include "core/measure/exposure.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

constexpr float kDark = 0.12f, kLight = 0.97f;
constexpr std::size_t kFew = 200;

Reading middleOf(std::vector<float>& v) {
  if (v.size() < kFew) return unavailable("too few pixels are neither dark nor clipped in both");
  std::sort(v.begin(), v.end());
  double sum = 0;
  const std::size_t from = v.size() / 4, to = v.size() - v.size() / 4;
  for (std::size_t i = from; i < to; ++i) sum += double(v[i]);
  const double wide = double(v[to - 1] - v[from]) / 1.35;
  return available(sum / double(to - from), wide / std::sqrt(double(v.size())));
}

}  // namespace

ExposureGain exposureBetween(const image::Raster<float>& from, const image::Raster<float>& to,
                             const image::Raster<std::uint8_t>& counts) {
  std::vector<float> y, red, blue;
  const auto usable = [](const float* c) {
    return c[3] > 0.99f && std::min({c[0], c[1], c[2]}) > kDark && std::max({c[0], c[1], c[2]}) < kLight;
  };
  for (std::size_t i = 0; i < counts.pixels(); ++i) {
    const float *a = from.samples().data() + 4 * i, *b = to.samples().data() + 4 * i;
    if (counts.samples()[i] == 0 || !usable(a) || !usable(b)) continue;
    double la[3], lb[3];
    for (int c = 0; c < 3; ++c) la[c] = image::linearFromEncoded(double(a[c])), lb[c] = image::linearFromEncoded(double(b[c]));
    const auto luminance = [](const double* l) { return 0.2126 * l[0] + 0.7152 * l[1] + 0.0722 * l[2]; };
    y.push_back(float(std::log2(luminance(lb) / luminance(la))));
    red.push_back(float(std::log2(lb[0] / la[0] * la[1] / lb[1])));
    blue.push_back(float(std::log2(lb[2] / la[2] * la[1] / lb[1])));
  }
  return {middleOf(y), middleOf(red), middleOf(blue)};
}

}  // namespace hseam::measure
