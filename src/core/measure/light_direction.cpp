#include "core/measure/light_direction.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/transfer.h"
#include "core/measure/drawn_anew.h"

namespace hseam::measure {
namespace {

constexpr std::size_t kFewShadedPlaces = 80;
constexpr int kDraws = 60, kStretches = 16;
constexpr double kMostSpreadDeg = 20;
// Of the luminance around the outline, how much the direction must explain, and how strong the light must be against its level.
constexpr double kLeastExplained = 0.12, kLeastStrength = 0.06;

struct Place {
  double nx, ny, y;
};

std::optional<Place> placeAt(const image::Raster<float>& colours, const OutlinePlace& p) {
  double sum = 0;
  int n = 0;
  for (int d = 3; d <= 7; ++d) {
    const int x = int(p.x - p.nx * float(d)), y = int(p.y - p.ny * float(d));
    if (x < 0 || y < 0 || x >= colours.width() || y >= colours.height() || colours.at(x, y)[3] < 0.97f) continue;
    const float* c = colours.at(x, y);
    if (std::max({c[0], c[1], c[2]}) > 0.99f) continue;  // cut off by the camera
    sum += 0.2126 * image::linearFromEncoded(double(c[0])) + 0.7152 * image::linearFromEncoded(double(c[1])) +
           0.0722 * image::linearFromEncoded(double(c[2]));
    ++n;
  }
  if (n < 3) return std::nullopt;
  return Place{double(p.nx), double(p.ny), sum / n};
}

struct Fit {
  double x = 0, y = 0, level = 0;
  double deg() const { return std::atan2(x, -y) * 180 / M_PI; }
};

// Weighted normal equations of three unknowns, by Cramer's rule.
Fit solved(const std::vector<Place>& places, const std::vector<std::size_t>& of, const std::vector<double>& weight) {
  std::array<std::array<double, 3>, 3> m{};
  std::array<double, 3> r{};
  for (std::size_t k = 0; k < of.size(); ++k) {
    const Place& p = places[of[k]];
    const std::array<double, 3> v{p.nx, p.ny, 1};
    for (std::size_t i = 0; i < 3; ++i) {
      for (std::size_t j = 0; j < 3; ++j) m[i][j] += weight[k] * v[i] * v[j];
      r[i] += weight[k] * v[i] * p.y;
    }
  }
  const auto det = [](const std::array<std::array<double, 3>, 3>& a) {
    return a[0][0] * (a[1][1] * a[2][2] - a[1][2] * a[2][1]) - a[0][1] * (a[1][0] * a[2][2] - a[1][2] * a[2][0]) +
           a[0][2] * (a[1][0] * a[2][1] - a[1][1] * a[2][0]);
  };
  const double all = det(m);
  if (std::abs(all) < 1e-12) return {};
  const auto by = [&](std::size_t column) {
    auto a = m;
    for (std::size_t i = 0; i < 3; ++i) a[i][column] = r[i];
    return det(a) / all;
  };
  return {by(0), by(1), by(2)};
}

Fit fitted(const std::vector<Place>& places, const std::vector<std::size_t>& of) {
  std::vector<double> weight(of.size(), 1.0);
  Fit f;
  for (int round = 0; round < 6; ++round) {
    f = solved(places, of, weight);
    std::vector<float> off;
    off.reserve(of.size());
    for (const std::size_t i : of)
      off.push_back(float(std::abs(places[i].y - f.x * places[i].nx - f.y * places[i].ny - f.level)));
    const double usual = std::max(1e-5, double(quantile(off, 0.5)) / 0.6745);
    for (std::size_t k = 0; k < of.size(); ++k) weight[k] = std::min(1.0, 1.345 * usual / std::max(1e-9, double(off[k])));
  }
  return f;
}

}  // namespace

Reading lightDirectionOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline) {
  std::vector<Place> places;
  for (std::size_t i = 0; i < outline.size(); i += 2) {
    if (const auto p = placeAt(colours, outline[i])) places.push_back(*p);
  }
  if (places.size() < kFewShadedPlaces) return unavailable("too little of its outline is seen");
  std::vector<std::size_t> all(places.size());
  for (std::size_t i = 0; i < all.size(); ++i) all[i] = i;
  const Fit fit = fitted(places, all);
  double mean = 0, squares = 0, left = 0;
  for (const Place& p : places) mean += p.y / double(places.size());
  for (const Place& p : places) {
    squares += std::pow(p.y - mean, 2);
    left += std::pow(p.y - fit.x * p.nx - fit.y * p.ny - fit.level, 2);
  }
  if (std::hypot(fit.x, fit.y) < kLeastStrength * mean || squares <= 0 || 1 - left / squares < kLeastExplained)
    return unavailable("the light has no side on it, or its colours are in the way");
  DrawnAnew drawn(places.size(), kStretches, 5);
  double off = 0;
  for (int k = 0; k < kDraws; ++k) {
    const std::vector<std::size_t> of = drawn.next();
    off += std::pow(std::remainder(fitted(places, of).deg() - fit.deg(), 360.0), 2) / kDraws;
  }
  if (std::sqrt(off) > kMostSpreadDeg) return unavailable("stretches of its outline disagree about the light");
  return available(fit.deg(), std::sqrt(off));
}

}  // namespace hseam::measure
