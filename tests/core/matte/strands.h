#pragma once
// A subject with strands whose alpha and colours are known, laid over a ground in linear light.

#include "core/image/transfer.h"
#include "core/matte/trimap.h"
#include "pictures.h"

namespace hseam::test {

struct Strands {
  image::Raster<float> picture, alpha, colours;  // sRGB-encoded; alpha 0..1
  image::Raster<std::uint8_t> band;
};

/// A disc with strands of 1..3 px that leave it at all angles. texture: amplitude of the ground's pattern, 0..1.
inline Strands strands(int size, double texture, std::uint64_t seed, const std::array<double, 3>& ground = {0.30, 0.42, 0.50}) {
  Noise noise(seed);
  constexpr int kFine = 3;  // sub-pixels a side, for coverage
  const int fine = size * kFine;
  std::vector<std::uint8_t> inside(std::size_t(fine) * std::size_t(fine));
  const double middle = fine / 2.0, radius = fine * 0.26;
  for (int y = 0; y < fine; ++y) {
    for (int x = 0; x < fine; ++x)
      inside[std::size_t(y) * std::size_t(fine) + std::size_t(x)] = std::hypot(x - middle, y - middle) < radius;
  }
  for (int s = 0; s < size / 3; ++s) {
    const double angle = noise.unit() * 2 * M_PI, bend = (noise.unit() - 0.5) * 1.6, length = fine * (0.06 + 0.09 * noise.unit()),
                 half = kFine * (0.4 + noise.unit()) / 2;
    for (double t = 0; t < length; t += 0.4) {
      const double a = angle + bend * t / length * 0.5, r = radius - 4 + t, w = half * (1 - 0.6 * t / length);
      const double cx = middle + r * std::cos(a), cy = middle + r * std::sin(a);
      for (int y = int(cy - w); y <= int(cy + w + 1); ++y) {
        for (int x = int(cx - w); x <= int(cx + w + 1); ++x) {
          if (x >= 0 && y >= 0 && x < fine && y < fine && std::hypot(x + 0.5 - cx, y + 0.5 - cy) <= w)
            inside[std::size_t(y) * std::size_t(fine) + std::size_t(x)] = 1;
        }
      }
    }
  }
  Strands out{image::Raster<float>(size, size, 3), image::Raster<float>(size, size), image::Raster<float>(size, size, 3),
              image::Raster<std::uint8_t>(size, size, 1, matte::kBackground)};
  const double subject[3] = {0.78, 0.52, 0.28};
  for (int y = 0; y < size; ++y) {
    for (int x = 0; x < size; ++x) {
      int count = 0;
      for (int k = 0; k < kFine * kFine; ++k)
        count += inside[std::size_t(y * kFine + k / kFine) * std::size_t(fine) + std::size_t(x * kFine + k % kFine)];
      const double a = double(count) / (kFine * kFine);
      *out.alpha.at(x, y) = float(a);
      const double pattern = texture * std::sin(x * 0.19 + 1.3 * std::sin(y * 0.07)) * std::cos(y * 0.13);
      for (int c = 0; c < 3; ++c) {
        const double f = subject[c] + 0.06 * std::sin(x * 0.3 + c) * std::cos(y * 0.23),
                     b = std::clamp(ground[std::size_t(c)] + pattern * (c == 1 ? 0.5 : 1), 0.0, 1.0);
        out.colours.at(x, y)[c] = float(f);
        const double light = a * image::linearFromEncoded(f) + (1 - a) * image::linearFromEncoded(b);
        out.picture.at(x, y)[c] = float(image::encodedFromLinear(light) + 0.004 * (noise.unit() - 0.5));
      }
    }
  }
  constexpr int kReach = 6;
  for (int y = 0; y < size; ++y) {
    for (int x = 0; x < size; ++x) {
      bool near = false;
      for (int dy = -kReach; dy <= kReach && !near; ++dy) {
        for (int dx = -kReach; dx <= kReach && !near; ++dx) {
          const int px = std::clamp(x + dx, 0, size - 1), py = std::clamp(y + dy, 0, size - 1);
          const float a = *out.alpha.at(px, py);
          near = dx * dx + dy * dy <= kReach * kReach && a > 0.02f && a < 0.98f;
        }
      }
      *out.band.at(x, y) = near ? matte::kUndecided : (*out.alpha.at(x, y) > 0.5f ? matte::kSubject : matte::kBackground);
    }
  }
  return out;
}

/// Mean absolute error of alpha over the undecided pixels.
inline double meanError(const image::Raster<float>& alpha, const Strands& truth) {
  double sum = 0, count = 0;
  for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
    if (matte::knownOf(truth.band.samples()[i]) != matte::Known::undecided) continue;
    sum += double(std::abs(alpha.samples()[i] - truth.alpha.samples()[i]));
    ++count;
  }
  return sum / count;
}

}  // namespace hseam::test
