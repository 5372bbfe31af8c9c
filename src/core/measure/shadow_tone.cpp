#include "core/measure/shadow_tone.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace hseam::measure {
namespace {

using Colour = std::array<double, 3>;

double luminance(const Colour& c) {
  return 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
}

double middleValue(std::vector<double>& v) {
  const auto at = v.begin() + std::ptrdiff_t(v.size() / 2);
  std::nth_element(v.begin(), at, v.end());
  return *at;
}

// The middle colour at one distance from the shadow's line, over the part of its length that is certainly shadow.
std::optional<Colour> across(const image::Raster<float>& colours, base::Point foot, base::Point along, base::Point over,
                             double offset) {
  constexpr double kFrom = 0.2, kTo = 0.6;
  constexpr int kPlaces = 25;
  std::array<std::vector<double>, 3> seen;
  for (int i = 0; i < kPlaces; ++i) {
    const double t = kFrom + (kTo - kFrom) * i / (kPlaces - 1);
    const int x = int(std::floor(foot.x + t * along.x + offset * over.x)),
              y = int(std::floor(foot.y + t * along.y + offset * over.y));
    if (x < 0 || y < 0 || x >= colours.width() || y >= colours.height() || colours.at(x, y)[3] < 0.98f) continue;
    for (std::size_t c = 0; c < 3; ++c) seen[c].push_back(double(colours.at(x, y)[c]));
  }
  if (seen[0].size() < std::size_t(kPlaces) / 2) return std::nullopt;
  return Colour{middleValue(seen[0]), middleValue(seen[1]), middleValue(seen[2])};
}

// The colour that three quarters of a side are no lighter than; nothing: too little of it is seen.
std::optional<Colour> litSide(const image::Raster<float>& colours, base::Point foot, base::Point along, base::Point over,
                              double length) {
  std::vector<Colour> side;
  const int steps = std::clamp(int(length / 2), 8, 64);
  for (int i = 1; i <= steps; ++i) {
    if (const auto c = across(colours, foot, along, over, length / 2 * i / steps)) side.push_back(*c);
  }
  if (side.size() < std::size_t(steps) / 2) return std::nullopt;
  const auto at = side.begin() + std::ptrdiff_t(side.size() * 3 / 4);
  std::nth_element(side.begin(), at, side.end(), [](const Colour& a, const Colour& b) { return luminance(a) < luminance(b); });
  return *at;
}

}  // namespace

ShadowTone shadowToneOf(const image::Raster<float>& colours, base::Point foot, base::Point tip) {
  constexpr double kShortest = 8, kHardly = 0.93;
  ShadowTone out;
  const base::Point along{tip.x - foot.x, tip.y - foot.y};
  const double length = std::hypot(along.x, along.y);
  if (length < kShortest) {
    out.left = unavailable("the shadow is too short");
    return out;
  }
  const base::Point over{-along.y / length, along.x / length};
  const auto shade = across(colours, foot, along, over, 0), one = litSide(colours, foot, along, over, length),
             other = litSide(colours, foot, along, {-over.x, -over.y}, length);
  if (!shade || (!one && !other)) {
    out.left = unavailable("too little of the floor is seen beside it");
    return out;
  }
  const Colour a = one.value_or(other.value_or(Colour{})), b = other.value_or(a);
  double sides[2];
  for (int i = 0; i < 2; ++i) sides[i] = luminance(*shade) / std::max(1e-6, luminance(i == 0 ? a : b));
  const double left = (sides[0] + sides[1]) / 2;
  if (left > kHardly) {
    out.left = unavailable("it is hardly darker than the floor beside it");
    return out;
  }
  out.left = available(left, std::abs(sides[0] - sides[1]) / 2);
  for (std::size_t c = 0; c < 3; ++c) out.colour[c] = std::clamp((*shade)[c] / std::max(1e-6, (a[c] + b[c]) / 2), 0.0, 1.0);
  return out;
}

}  // namespace hseam::measure
