#include "core/matte/local_colours.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using image::Raster;

constexpr int kCell = 4;  // px
constexpr int kRays = 24;
constexpr int kSamplesARay = 4;  // of each side
constexpr int kMaxSteps = 250;
constexpr int kFarSide = 60;    // px after which a ray that has one side is not followed for the other
constexpr float kSure = 0.03f;  // of a guessed alpha

struct Sample {
  const float* colour;
  float distance;
};

ColourSpread spreadOf(const std::vector<Sample>& samples) {
  ColourSpread out;
  if (samples.empty()) return out;
  float nearest = samples.front().distance;
  for (const Sample& s : samples) nearest = std::min(nearest, s.distance);
  double weights = 0;
  std::array<double, 3> sum{};
  std::array<double, 6> products{};
  for (const Sample& s : samples) {
    const double fall = (double(nearest) + 4) / (double(s.distance) + 4), w = fall * fall;
    const double r = double(s.colour[0]), g = double(s.colour[1]), b = double(s.colour[2]);
    weights += w;
    sum[0] += w * r, sum[1] += w * g, sum[2] += w * b;
    products[0] += w * r * r, products[1] += w * r * g, products[2] += w * r * b;
    products[3] += w * g * g, products[4] += w * g * b, products[5] += w * b * b;
  }
  constexpr std::array<std::size_t, 6> kOne{0, 0, 0, 1, 1, 2}, kOther{0, 1, 2, 1, 2, 2};
  for (double& s : sum) s /= weights;
  out.weight = 1;
  for (std::size_t c = 0; c < 3; ++c) out.mean[c] = float(sum[c]);
  for (std::size_t k = 0; k < 6; ++k) out.covariance[k] = float(products[k] / weights - sum[kOne[k]] * sum[kOther[k]]);
  return out;
}

struct Rays {
  const Raster<float>& picture;
  const Raster<std::uint8_t>& band;
  const Raster<float>* guess;

  Known at(int x, int y) const {
    const Known k = knownOf(*band.at(x, y));
    if (k != Known::undecided || guess == nullptr) return k;
    const float g = *guess->at(x, y);
    return g < kSure ? Known::background : (g > 1 - kSure ? Known::subject : k);
  }

  void shoot(float fromX, float fromY, double angle, std::vector<Sample>& subjects, std::vector<Sample>& backgrounds) const {
    const float dx = float(std::cos(angle)), dy = float(std::sin(angle));
    int seenSubject = 0, seenBackground = 0;
    for (int i = 0; i < kMaxSteps; ++i) {
      const float px = fromX + float(i) * dx, py = fromY + float(i) * dy;
      if (px < 0 || py < 0 || px >= float(band.width()) || py >= float(band.height())) return;
      const int x = int(px), y = int(py);
      const Known k = at(x, y);
      if (k == Known::undecided) continue;
      int& seen = k == Known::subject ? seenSubject : seenBackground;
      if (seen < kSamplesARay) {
        ++seen;
        (k == Known::subject ? subjects : backgrounds).push_back({picture.at(x, y), float(i) + 1});
      } else if ((seenSubject > 0 && seenBackground > 0) || i > kFarSide) {
        return;
      }
      ++i;  // neighbours say the same: every second one is enough
    }
  }
};

}  // namespace

LocalColours::LocalColours(const Raster<float>& picture, const Raster<std::uint8_t>& band, const Raster<float>* guess,
                           const std::vector<int>& pixels, base::Executor& executor)
    : across_((band.width() + kCell - 1) / kCell + 1) {
  const int down = (band.height() + kCell - 1) / kCell + 1, width = band.width();
  const std::size_t count = std::size_t(across_) * std::size_t(down);
  subject_.resize(count);
  background_.resize(count);
  std::vector<std::uint8_t> wanted(count, 0);
  for (const int at : pixels) {
    const std::size_t corner = std::size_t(at / width / kCell) * std::size_t(across_) + std::size_t(at % width / kCell);
    wanted[corner] = wanted[corner + 1] = 1;
    wanted[corner + std::size_t(across_)] = wanted[corner + std::size_t(across_) + 1] = 1;
  }
  const Rays rays{picture, band, guess};
  executor.forEach(down, [&](int cy) {
    std::vector<Sample> subjects, backgrounds;
    for (int cx = 0; cx < across_; ++cx) {
      const std::size_t corner = std::size_t(cy) * std::size_t(across_) + std::size_t(cx);
      if (!wanted[corner]) continue;
      subjects.clear();
      backgrounds.clear();
      // Neighbours shoot at different angles: what a ray misses, the next corner's sees.
      const double turn = double((cx + 3 * cy) % 7) / 7;
      for (int r = 0; r < kRays; ++r) {
        rays.shoot(float(std::min(cx * kCell, width - 1)), float(std::min(cy * kCell, band.height() - 1)),
                   2 * std::numbers::pi * (r + turn) / kRays, subjects, backgrounds);
      }
      subject_[corner] = spreadOf(subjects);
      background_[corner] = spreadOf(backgrounds);
    }
  });
}

ColourSpread LocalColours::between(const std::vector<ColourSpread>& corners, int x, int y) const {
  const float u = float(x % kCell) / kCell, v = float(y % kCell) / kCell;
  const std::size_t first = std::size_t(y / kCell) * std::size_t(across_) + std::size_t(x / kCell);
  ColourSpread out;
  const auto take = [&](std::size_t corner, float share) {
    const ColourSpread& c = corners[corner];
    const float w = share * c.weight;
    out.weight += w;
    for (std::size_t k = 0; k < 3; ++k) out.mean[k] += w * c.mean[k];
    for (std::size_t k = 0; k < 6; ++k) out.covariance[k] += w * c.covariance[k];
  };
  take(first, (1 - u) * (1 - v));
  take(first + 1, u * (1 - v));
  take(first + std::size_t(across_), (1 - u) * v);
  take(first + std::size_t(across_) + 1, u * v);
  if (out.weight > 0) {
    for (float& m : out.mean) m /= out.weight;
    for (float& c : out.covariance) c /= out.weight;
  }
  return out;
}

}  // namespace hseam::matte
