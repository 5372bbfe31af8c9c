#include "core/matte/evidence.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using image::Raster;

constexpr std::size_t kRays = 12;
constexpr int kMaxSteps = 250;

struct Spot {
  int at = -1;         // index of the pixel; −1: no sample
  float distance = 0;  // px from the undecided pixel that found it
};
struct Pair {
  int subject = -1, background = -1;
};

float squared(const float* a, const float* b) {
  const float x = a[0] - b[0], y = a[1] - b[1], z = a[2] - b[2];
  return x * x + y * y + z * z;
}

float alphaOf(const float* c, const float* f, const float* b) {
  float up = 0, down = 0;
  for (int k = 0; k < 3; ++k) {
    up += (c[k] - b[k]) * (f[k] - b[k]);
    down += (f[k] - b[k]) * (f[k] - b[k]);
  }
  return down > 1e-8f ? std::clamp(up / down, 0.f, 1.f) : 0.5f;
}

// How badly a pair explains a colour: squared distance from the line between them.
float misfit(const float* c, const float* f, const float* b) {
  const float a = alphaOf(c, f, b);
  const float m[3] = {a * f[0] + (1 - a) * b[0], a * f[1] + (1 - a) * b[1], a * f[2] + (1 - a) * b[2]};
  return squared(c, m);
}

struct Direction {
  float x, y;
};

std::array<Direction, 9 * kRays> allDirections() {
  std::array<Direction, 9 * kRays> out{};
  for (std::size_t i = 0; i < out.size(); ++i) {
    const std::size_t turn = i / kRays;  // of the neighbour that uses these
    const double angle = 2 * std::numbers::pi * (double(i % kRays) + double(turn) / 9) / kRays;
    out[i] = {float(std::cos(angle)), float(std::sin(angle))};
  }
  return out;
}

struct Sampler {
  const Raster<float>& picture;
  const Raster<std::uint8_t>& band;
  const std::array<Direction, 9 * kRays> directions = allDirections();

  const float* colour(int at) const { return picture.samples().data() + std::size_t(at) * 3; }

  // A ray ends at the first decided pixel: the other side is found by the rays that go the other way.
  void shoot(int x, int y, std::array<Spot, kRays>& subjects, std::array<Spot, kRays>& backgrounds) const {
    for (std::size_t r = 0; r < kRays; ++r) {
      // Neighbours shoot at different angles, so that sharing sees many directions.
      const Direction d = directions[std::size_t((x % 3) + 3 * (y % 3)) * kRays + r];
      float px = float(x) + 0.5f, py = float(y) + 0.5f;
      for (int i = 1; i < kMaxSteps; ++i) {
        px += d.x, py += d.y;
        if (px < 0 || py < 0 || px >= float(band.width()) || py >= float(band.height())) break;
        const int at = int(py) * band.width() + int(px);
        const Known k = knownOf(band.samples()[std::size_t(at)]);
        if (k == Known::undecided) continue;
        (k == Known::subject ? subjects : backgrounds)[r] = {at, float(i)};
        break;
      }
    }
  }

  Pair best(int at, const std::array<Spot, kRays>& subjects, const std::array<Spot, kRays>& backgrounds) const {
    float nearS = 1e9f, nearB = 1e9f;
    for (const Spot& s : subjects) nearS = s.at >= 0 ? std::min(nearS, s.distance) : nearS;
    for (const Spot& b : backgrounds) nearB = b.at >= 0 ? std::min(nearB, b.distance) : nearB;
    Pair found;
    float lowest = 1e30f;
    for (const Spot& s : subjects) {
      if (s.at < 0) continue;
      for (const Spot& b : backgrounds) {
        if (b.at < 0) continue;
        const float cost =
            misfit(colour(at), colour(s.at), colour(b.at)) * 400 + 0.12f * s.distance / nearS + 0.12f * b.distance / nearB;
        if (cost < lowest) lowest = cost, found = {s.at, b.at};
      }
    }
    return found;
  }
};

constexpr int kShareReach = 4;  // px; every second pixel within is asked

}  // namespace

std::vector<Evidence> colourEvidence(const Raster<float>& picture, const Raster<std::uint8_t>& band,
                                     const std::vector<int>& pixels, base::Executor& executor) {
  const Sampler sampler{picture, band};
  const int width = band.width();
  std::vector<Pair> pairs(picture.pixels());
  constexpr int kChunk = 4096;
  const int chunks = (int(pixels.size()) + kChunk - 1) / kChunk;
  const auto eachPixel = [&](const auto& body) {
    executor.forEach(chunks, [&](int c) {
      for (std::size_t i = std::size_t(c) * kChunk, end = std::min(pixels.size(), i + kChunk); i < end; ++i) body(i);
    });
  };
  eachPixel([&](std::size_t i) {
    std::array<Spot, kRays> subjects{}, backgrounds{};
    const int at = pixels[i];
    sampler.shoot(at % width, at / width, subjects, backgrounds);
    pairs[std::size_t(at)] = sampler.best(at, subjects, backgrounds);
  });
  std::vector<Evidence> out(pixels.size());
  eachPixel([&](std::size_t i) {
    const int at = pixels[i], x = at % width, y = at / width;
    const float* c = sampler.colour(at);
    // The three best of what the neighbours found, averaged by how well they explain this pixel.
    struct Scored {
      float misfit = 1e30f;
      Pair pair;
    };
    std::array<Scored, 3> top{};
    for (int dy = -kShareReach; dy <= kShareReach; dy += 2) {
      for (int dx = -kShareReach; dx <= kShareReach; dx += 2) {
        const int px = x + dx, py = y + dy;
        if (px < 0 || py < 0 || px >= band.width() || py >= band.height()) continue;
        const Pair p = pairs[std::size_t(py) * std::size_t(width) + std::size_t(px)];
        if (p.subject < 0) continue;
        const float m = misfit(c, sampler.colour(p.subject), sampler.colour(p.background));
        for (std::size_t k = 0; k < top.size(); ++k) {
          if (m >= top[k].misfit) continue;
          std::rotate(top.begin() + long(k), top.end() - 1, top.end());
          top[k] = {m, p};
          break;
        }
      }
    }
    float alpha = 0, weights = 0, apart = 0, wrong = 0;
    for (const Scored& s : top) {
      if (s.pair.subject < 0) continue;
      const float *f = sampler.colour(s.pair.subject), *b = sampler.colour(s.pair.background);
      const float w = 1 / (s.misfit + 1e-4f);
      alpha += w * alphaOf(c, f, b);
      apart += w * squared(f, b);
      wrong += w * s.misfit;
      weights += w;
    }
    if (weights <= 0) return;
    // Colours that lie close together say little, and so does a pair that does not explain the pixel.
    out[i] = {alpha / weights, std::exp(-wrong / weights * 300) * std::min(1.f, apart / weights / 0.06f)};
  });
  return out;
}

}  // namespace hseam::matte
