#include "core/matte/edge_fit.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/sampler.h"
#include "core/image/transfer.h"

namespace hseam::matte {
namespace {

constexpr int kReach = 14, kSearch = 8, kFar = 9;  // px across: looked at, searched for the edge, and where sides are pure
constexpr int kSteps = 8 * kReach + 1;             // a quarter px apart
constexpr int kBeside = 3;                         // places to each side whose profiles are averaged
constexpr double kLeastContrast = 0.02;            // of the sides' colours, in linear or coded values
constexpr std::array<double, 8> kSigmas = {0.35, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0};

double offsetOf(int step) {
  return double(step) / 4 - kReach;
}

using Line = std::array<std::array<float, 3>, kSteps>;

// Steps as seen through every blur: value at (position − offset) in quarter px.
class Steps {
 public:
  Steps() {
    for (std::size_t s = 0; s < kSigmas.size(); ++s) {
      for (int q = -kMost; q <= kMost; ++q)
        values_[s][std::size_t(q) + std::size_t(kMost)] = float(coverageAcross(-double(q) / 4, 0, kSigmas[s]));
    }
  }
  float at(std::size_t sigma, int quarters) const {
    return values_[sigma][std::size_t(std::clamp(quarters, -kMost, kMost)) + std::size_t(kMost)];
  }

 private:
  static constexpr int kMost = 4 * (kReach + kSearch);
  std::array<std::array<float, 2 * kMost + 1>, kSigmas.size()> values_;
};

struct One {
  double position = 0, sigma = 1, certainty = 0;
};

std::array<float, 3> meanOf(const Line& line, double from, double to) {
  std::array<float, 3> sum{};
  int n = 0;
  for (int i = 0; i < kSteps; ++i) {
    if (offsetOf(i) < from || offsetOf(i) > to) continue;
    for (std::size_t c = 0; c < 3; ++c) sum[c] += line[std::size_t(i)][c];
    ++n;
  }
  for (float& v : sum) v /= float(n);
  return sum;
}

// The pure sides are taken at a distance from the edge that is being tried, so that an outline some px off does no harm.
One fitted(const Line& line, const Steps& steps) {
  One best;
  double least = INFINITY;
  for (int centre = -kSearch + 1; centre < kSearch; centre += 2) {
    const auto in = meanOf(line, std::max<double>(-kReach, centre - kFar - 3), centre - kFar + 4),
               out = meanOf(line, centre + kFar - 4, std::min<double>(kReach, centre + kFar + 3));
    std::array<float, 3> d;
    double whole = 0;
    for (std::size_t c = 0; c < 3; ++c) {
      d[c] = in[c] - out[c];
      whole += double(d[c]) * double(d[c]);
    }
    if (whole < kLeastContrast * kLeastContrast) continue;
    std::array<float, kSteps> share;
    for (int i = 0; i < kSteps; ++i) {
      double v = 0;
      for (std::size_t c = 0; c < 3; ++c) v += double(line[std::size_t(i)][c] - out[c]) * double(d[c]);
      share[std::size_t(i)] = float(v / whole);
    }
    const int from = std::max(0, 4 * (centre + kReach - 6)), to = std::min(kSteps - 1, 4 * (centre + kReach + 6));
    const auto cost = [&](std::size_t sigma, int position) {  // position in quarters from −kReach
      double sum = 0;
      for (int i = from; i <= to; i += 2) {
        const double e = double(share[std::size_t(i)] - steps.at(sigma, position - i));
        sum += e * e;
      }
      return sum / (to - from) * 2;
    };
    for (std::size_t s = 0; s < kSigmas.size(); ++s) {
      for (int p = 4 * (centre + kReach) - 4; p <= 4 * (centre + kReach) + 4; ++p) {
        const double e = cost(s, p);
        // A step that explains the same with more contrast is the likelier edge.
        if (e >= least - 1e-9) continue;
        least = e;
        const double before = cost(s, p - 1), after = cost(s, p + 1), bend = before - 2 * e + after;
        const double refined = bend > 1e-12 ? std::clamp(0.5 * (before - after) / bend, -0.5, 0.5) : 0;
        best = {(p + refined) / 4 - kReach, kSigmas[s], whole / (whole + 0.003) * std::exp(-e / 0.02)};
      }
    }
  }
  return best;
}

// Averages of each value by certainty, within the run.
std::vector<double> averaged(const std::vector<double>& values, const std::vector<double>& certainty, double sigma) {
  std::vector<double> out(values.size());
  const int r = int(3 * sigma), n = int(values.size());
  for (int i = 0; i < n; ++i) {
    double sum = 0, all = 0;
    for (int k = std::max(0, i - r); k <= std::min(n - 1, i + r); ++k) {
      const double w = (1e-4 + certainty[std::size_t(k)]) * std::exp(-0.5 * (k - i) * (k - i) / (sigma * sigma));
      sum += w * values[std::size_t(k)];
      all += w;
    }
    out[std::size_t(i)] = sum / all;
  }
  return out;
}

}  // namespace

double coverageAcross(double s, double outwardsPx, double sigmaPx) {
  return 0.5 * std::erfc((s - outwardsPx) / (sigmaPx * std::sqrt(2.0)));
}

base::Result<FittedEdge> fittedEdge(const Unrolled& outline, int first, int count, const image::TiledImage& picture,
                                    bool inEncoded) {
  image::Sampler colours(picture);
  const bool grey = image::channelsOf(picture.format()) < 3;
  std::vector<Line> lines(static_cast<std::size_t>(count));
  for (int i = 0; i < count; ++i) {
    const auto& p = outline.places[std::size_t(first) + std::size_t(i)];
    for (int k = 0; k < kSteps; ++k) {
      const double d = offsetOf(k);
      for (int c = 0; c < 3; ++c) {
        const float v = colours.at(p.at.x + p.outward.x * d, p.at.y + p.outward.y * d, grey ? 0 : c);
        lines[std::size_t(i)][std::size_t(k)][std::size_t(c)] = inEncoded ? v : image::fastLinear(v);
      }
    }
  }
  if (colours.failed()) return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  static const Steps kStepTable;
  std::vector<double> position, blur, certainty;
  for (int i = 0; i < count; ++i) {
    Line mean{};
    const int from = std::max(0, i - kBeside), to = std::min(count - 1, i + kBeside);
    for (int j = from; j <= to; ++j) {
      for (std::size_t k = 0; k < kSteps; ++k) {
        for (std::size_t c = 0; c < 3; ++c) mean[k][c] += lines[std::size_t(j)][k][c] / float(to - from + 1);
      }
    }
    const One one = fitted(mean, kStepTable);
    position.push_back(one.position);
    blur.push_back(one.sigma);
    certainty.push_back(one.certainty);
  }
  // A place that disagrees with its neighbours found another edge: the median of the surroundings decides.
  std::vector<double> trusted = certainty;
  for (int i = 0; i < count; ++i) {
    std::vector<double> around(position.begin() + std::max(0, i - 12), position.begin() + std::min(count, i + 13));
    std::nth_element(around.begin(), around.begin() + std::ptrdiff_t(around.size() / 2), around.end());
    if (std::abs(position[std::size_t(i)] - around[around.size() / 2]) > 1.5) trusted[std::size_t(i)] = 0;
  }
  FittedEdge out;
  out.outwardsPx = averaged(position, trusted, 3);
  out.sigmaPx = averaged(blur, trusted, 12);
  out.certainty = std::move(certainty);
  return out;
}

}  // namespace hseam::matte
