#include "core/measure/exposure.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

constexpr float kDark = 0.12f, kLight = 0.97f;
constexpr std::size_t kFew = 200;

Reading middleOf(std::vector<float>& v) {
  if (v.size() < kFew) return cannotTell("too few pixels are neither dark nor clipped in both");
  std::sort(v.begin(), v.end());
  double sum = 0;
  const std::size_t from = v.size() / 4, to = v.size() - v.size() / 4;
  for (std::size_t i = from; i < to; ++i) sum += double(v[i]);
  const double wide = double(v[to - 1] - v[from]) / 1.35;
  return told(sum / double(to - from), wide / std::sqrt(double(v.size())));
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

Reading bandingOf(const Part& part) {
  constexpr int kSquare = 16;
  int sloping = 0, stepped = 0;
  const auto levelAt = [&](int x, int y) {
    const float* c = part.colours.at(x, y);
    return std::lround(255 * (0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2]));
  };
  for (int by = 0; by + kSquare <= part.colours.height(); by += kSquare) {
    for (int bx = 0; bx + kSquare <= part.colours.width(); bx += kSquare) {
      long low = 255, high = 0;
      int rough = 0;
      bool whole = true;
      for (int y = 0; y < kSquare && whole; y += 2) {
        for (int x = 0; x < kSquare; x += 2) {
          whole &= *part.counts.at(bx + x, by + y) != 0;
          const long a = levelAt(bx + x, by + y), b = levelAt(bx + x + 1, by + y), c = levelAt(bx + x, by + y + 1),
                     d = levelAt(bx + x + 1, by + y + 1);
          low = std::min({low, a, b, c, d}), high = std::max({high, a, b, c, d});
          // A step passes through few of them; grain is in most.
          rough += a - b - c + d != 0;
        }
      }
      if (!whole || high - low < 1 || high - low > 6) continue;
      ++sloping;
      stepped += rough <= 6;
    }
  }
  if (sloping < 20) return cannotTell("there are no smooth slopes");
  const double share = double(stepped) / sloping;
  return told(share, std::sqrt(share * (1 - share) / sloping));
}

}  // namespace hseam::measure
