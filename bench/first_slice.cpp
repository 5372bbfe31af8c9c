#include "first_slice.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "core/image/transfer.h"
#include "core/matte/laplacian.h"
#include "core/matte/trimap.h"

namespace hseam::bench {
namespace {

using matte::Known;
using matte::knownOf;

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

struct Evidence {
  float alpha = 0.5f;
  float confidence = 0;
};

std::vector<Evidence> rayEvidence(const Raster<float>& picture, const Raster<std::uint8_t>& band, const std::vector<int>& pixels,
                                  base::Executor& executor) {
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

Raster<float> half(const Raster<float>& in) {
  cv::Mat small;
  cv::resize(cv::Mat(in.height(), in.width(), CV_32FC(in.channels()), const_cast<float*>(in.row(0))), small,
             cv::Size((in.width() + 1) / 2, (in.height() + 1) / 2), 0, 0, cv::INTER_AREA);
  Raster<float> out(small.cols, small.rows, in.channels());
  for (int y = 0; y < small.rows; ++y) std::copy_n(small.ptr<float>(y), std::size_t(small.cols * small.channels()), out.row(y));
  return out;
}

Raster<float> solved(const Raster<float>& light, const Raster<std::uint8_t>& band, base::Executor& executor) {
  const matte::Laplacian system(light, band, 1e-7, executor);
  const std::vector<Evidence> evidence = rayEvidence(light, band, system.pixels(), executor);
  std::optional<Raster<float>> coarse;
  if (std::max(band.width(), band.height()) > 192) {
    Raster<std::uint8_t> small((band.width() + 1) / 2, (band.height() + 1) / 2);
    bool subject = false, background = false;
    for (int y = 0; y < small.height(); ++y) {
      for (int x = 0; x < small.width(); ++x) {
        const int x1 = std::min(2 * x + 1, band.width() - 1), y1 = std::min(2 * y + 1, band.height() - 1);
        const std::uint8_t v = *band.at(2 * x, 2 * y);
        *small.at(x, y) = v == *band.at(x1, 2 * y) && v == *band.at(2 * x, y1) && v == *band.at(x1, y1) ? v : matte::kUndecided;
        subject |= *small.at(x, y) == matte::kSubject, background |= *small.at(x, y) == matte::kBackground;
      }
    }
    if (subject && background) coarse = solved(half(light), small, executor);
  }
  std::vector<double> start, weight, target;
  for (std::size_t i = 0; i < evidence.size(); ++i) {
    const int at = system.pixels()[i], x = at % band.width() / 2, y = at / band.width() / 2;
    weight.push_back(2e-4 * double(evidence[i].confidence));
    target.push_back(double(evidence[i].alpha));
    start.push_back(coarse ? double(*coarse->at(std::min(x, coarse->width() - 1), std::min(y, coarse->height() - 1)))
                           : double(evidence[i].alpha));
  }
  const auto s = system.solve(start, weight, target, 4e-4, 400, executor, {});
  Raster<float> alpha(band.width(), band.height());
  for (std::size_t i = 0; i < band.samples().size(); ++i)
    alpha.samples()[i] = knownOf(band.samples()[i]) == Known::subject ? 1.f : 0.f;
  for (std::size_t i = 0; i < evidence.size(); ++i)
    alpha.samples()[std::size_t(system.pixels()[i])] = float(std::clamp(s.value().alpha[i], 0.0, 1.0));
  return alpha;
}

}  // namespace

Raster<float> firstSlice(const Raster<float>& picture, const Raster<std::uint8_t>& band, base::Executor& executor) {
  Raster<float> light = picture;
  for (float& v : light.samples()) v = float(image::linearFromEncoded(double(v)));
  return solved(light, band, executor);
}

}  // namespace hseam::bench
