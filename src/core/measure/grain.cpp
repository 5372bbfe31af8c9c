#include "core/measure/grain.h"

#include <algorithm>
#include <cmath>

namespace hseam::measure {
namespace {

constexpr int kBlock = 16;
constexpr double kClean = 0.25 / 255;
constexpr int kFewPlaces = 150;
// Mean of a normal distribution's absolute values below their 80 % quantile (in deviations): less coarse than a median where
// values are whole steps.
constexpr double kTrim = 0.8, kTrimmedMean = 0.5586;
// Variance that rounding to 8 bits gives luma.
constexpr double kRounding = (0.3 * 0.3 + 0.59 * 0.59 + 0.11 * 0.11) / 12 / 255 / 255;
// Grain is as strong in one place as in the next of like tone; texture is not.
constexpr double kUneven = 0.33;
// A place is flat where its coarser detail is what grain alone makes of it, or next to nothing.
// Grain has no direction: detail across or down that is stronger than the diagonal by more is texture.
constexpr double kDirected = 3;
constexpr double kTexture = 9, kNothing = 15 * 0.6 / 255 / 255;

double deviationOf(std::vector<float>& details) {
  const auto keep = std::max<std::size_t>(1, std::size_t(kTrim * double(details.size())));
  std::nth_element(details.begin(), details.begin() + long(keep - 1), details.end());
  double sum = 0;
  for (std::size_t i = 0; i < keep; ++i) sum += double(details[i]);
  const double sigma = sum / double(keep) / kTrimmedMean;
  return std::sqrt(std::max(0.0, sigma * sigma - kRounding));
}

float lumaOf(const float* c) {
  return 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
}

struct Block {
  float rough = 0;  // coarse detail: how much means of 4 × 4 px differ from a plane
  float tone = 0;
  float own = 0;  // deviation of its details
  std::vector<float> details, across, down;
};

}  // namespace

Grain grainOf(const Part& part) {
  const int w = part.colours.width(), h = part.colours.height();
  std::vector<Block> blocks;
  for (int by = 0; by + kBlock <= h; by += kBlock) {
    for (int bx = 0; bx + kBlock <= w; bx += kBlock) {
      bool whole = true;
      for (int y = 0; y < kBlock && whole; y += 3) {
        for (int x = 0; x < kBlock && whole; x += 3) whole = *part.counts.at(bx + x, by + y) != 0;
      }
      if (!whole) continue;
      Block b;
      float mean[4][4] = {};
      for (int y = 0; y < kBlock; y += 2) {
        for (int x = 0; x < kBlock; x += 2) {
          const float p00 = lumaOf(part.colours.at(bx + x, by + y)), p10 = lumaOf(part.colours.at(bx + x + 1, by + y)),
                      p01 = lumaOf(part.colours.at(bx + x, by + y + 1)), p11 = lumaOf(part.colours.at(bx + x + 1, by + y + 1));
          b.details.push_back(std::abs(p00 - p10 - p01 + p11) / 2);
          b.across.push_back(std::abs(p00 - p10 + p01 - p11) / 2);
          b.down.push_back(std::abs(p00 + p10 - p01 - p11) / 2);
          mean[y / 4][x / 4] += (p00 + p10 + p01 + p11) / 16;
        }
      }
      float slopeX = 0, slopeY = 0;
      for (int y = 0; y < 4; ++y) {
        for (int x = 0; x < 4; ++x) {
          b.tone += mean[y][x] / 16;
          slopeX += mean[y][x] * (float(x) - 1.5f) / 20;
          slopeY += mean[y][x] * (float(y) - 1.5f) / 20;
        }
      }
      for (int y = 0; y < 4; ++y) {
        for (int x = 0; x < 4; ++x) {
          const float off = mean[y][x] - b.tone - slopeX * (float(x) - 1.5f) - slopeY * (float(y) - 1.5f);
          b.rough += off * off;
        }
      }
      const double own = deviationOf(b.details);
      b.own = float(own);
      const double directed = std::max(deviationOf(b.across), deviationOf(b.down));
      const bool even = directed <= kDirected * own || directed < 1.2 / 255;
      const bool flat = even && double(b.rough) <= std::max(kNothing, kTexture * 15 * own * own / 16);
      // Clipped tones have lost their grain.
      if (flat && b.tone > 0.01f && b.tone < 0.985f) blocks.push_back(std::move(b));
    }
  }
  Grain out;
  for (int bin = 0; bin < kGrainBins; ++bin) {
    std::vector<const Block*> in;
    for (const Block& b : blocks) {
      if (std::min(kGrainBins - 1, int(b.tone * kGrainBins)) == bin) in.push_back(&b);
    }
    if (in.empty()) continue;
    const std::size_t keep = std::max<std::size_t>(std::min<std::size_t>(in.size(), 4), in.size() / 3);
    std::partial_sort(in.begin(), in.begin() + long(keep), in.end(),
                      [](const Block* a, const Block* b) { return a->rough < b->rough; });
    std::vector<float> details;
    for (std::size_t i = 0; i < keep; ++i) details.insert(details.end(), in[i]->details.begin(), in[i]->details.end());
    std::vector<float> each;
    for (std::size_t i = 0; i < keep; ++i) each.push_back(in[i]->own);
    const float middle = quantile(each, 0.5);
    for (float& v : each) v = std::abs(v - middle);
    if (keep >= 6 && double(quantile(each, 0.5)) / 0.6745 > kUneven * double(middle) && double(middle) > 1.0 / 255) continue;
    out.places[std::size_t(bin)] = int(details.size());
    out.sigma[std::size_t(bin)] = deviationOf(details);
  }
  return out;
}

Reading grainRatio(const Grain& layer, const Grain& scene) {
  // Where the tones disagree about it by more, something else than grain was read.
  constexpr double kDisagree = 0.5;
  double sum = 0, weight = 0, squares = 0, layerMost = 0, sceneMost = 0;
  for (std::size_t i = 0; i < kGrainBins; ++i) {
    if (layer.places[i] < kFewPlaces || scene.places[i] < kFewPlaces) continue;
    layerMost = std::max(layerMost, layer.sigma[i]), sceneMost = std::max(sceneMost, scene.sigma[i]);
    // Less than half a step of 8 bits is none.
    const double ratio = std::log(std::max(layer.sigma[i], 2 * kClean) / std::max(scene.sigma[i], 2 * kClean)),
                 wgt = std::sqrt(double(std::min(layer.places[i], scene.places[i])));
    sum += wgt * ratio, squares += wgt * ratio * ratio, weight += wgt;
  }
  if (weight <= 0) return unavailable("no flat places of like tones");
  if (layerMost < kClean && sceneMost < kClean) return unavailable("neither has any grain");
  const double mean = sum / weight, spread = std::sqrt(std::max(0.0, squares / weight - mean * mean));
  if (spread > kDisagree) return unavailable("its tones disagree: it is texture rather than grain");
  return available(std::exp(mean), std::exp(mean) * spread);
}

Reading grainFloor(const Part& part) {
  constexpr int kSquare = 8, kStep = 4;
  constexpr std::size_t kFewSquares = 30;
  std::vector<float> all;
  for (int by = 0; by + kSquare <= part.colours.height(); by += kStep) {
    for (int bx = 0; bx + kSquare <= part.colours.width(); bx += kStep) {
      const auto counts = [&](int x, int y) { return *part.counts.at(bx + x, by + y) != 0; };
      if (!counts(0, 0) || !counts(kSquare - 1, 0) || !counts(0, kSquare - 1) || !counts(kSquare - 1, kSquare - 1)) continue;
      std::vector<float> details;
      double tone = 0;
      for (int y = 0; y < kSquare; y += 2) {
        for (int x = 0; x < kSquare; x += 2) {
          const float p00 = lumaOf(part.colours.at(bx + x, by + y)), p10 = lumaOf(part.colours.at(bx + x + 1, by + y)),
                      p01 = lumaOf(part.colours.at(bx + x, by + y + 1)), p11 = lumaOf(part.colours.at(bx + x + 1, by + y + 1));
          details.push_back(std::abs(p00 - p10 - p01 + p11) / 2);
          tone += double(p00 + p10 + p01 + p11) / 64;
        }
      }
      // Clipped tones have lost their grain.
      if (tone > 0.02 && tone < 0.97) all.push_back(float(deviationOf(details)));
    }
  }
  if (all.size() < kFewSquares) return unavailable("there are too few even places in it");
  const double floor = double(quantile(all, 0.1));
  return available(floor, double(quantile(all, 0.33)) - floor);
}

Reading grainLevel(const Grain& g) {
  double sum = 0, weight = 0;
  for (std::size_t i = 0; i < kGrainBins; ++i) {
    if (g.places[i] < kFewPlaces) continue;
    sum += g.sigma[i] * std::sqrt(double(g.places[i])), weight += std::sqrt(double(g.places[i]));
  }
  return weight > 0 ? available(sum / weight, sum / weight / std::sqrt(std::max(1.0, weight)))
                    : unavailable("there are no flat places");
}

}  // namespace hseam::measure
