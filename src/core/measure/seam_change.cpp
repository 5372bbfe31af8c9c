#include "core/measure/seam_change.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <optional>
#include <tuple>

#include "core/image/transfer.h"
#include "core/measure/drawn_anew.h"

namespace hseam::measure {
namespace {

using Kind = SeamChange::Kind;
using Colours = std::vector<std::array<float, 3>>;

constexpr Kind kKinds[] = {Kind::black, Kind::white, Kind::middle, Kind::cast, Kind::saturation};
constexpr int kViews = 6;  // of a colour: its channels, and their distances from luma
constexpr int kShares = 10;
constexpr int kValues = kViews * kShares;
constexpr double kLeastNoise = 0.002;
constexpr std::size_t kMostPairs = 700;
constexpr int kDraws = 48, kStretches = 20;  // twice as many draws say how values go together
// Few draws say little of how values go together: so much of it is believed (shrinkage; Ledoit, Wolf 2004).
constexpr double kTogether = 0.5;
// A cause is named if it is so many of its spreads from nothing and explains so much of what differs.
constexpr double kSure = 3.3, kExplains = 0.35;
// A second one must be surer: it lives on what the first left over.
constexpr double kSecondSure = 5, kSecondExplains = 0.45;

// Subjects of other photographs reach a likeness of 0.8 by chance, but stay under kGoesOn with what differs taken off; pieces
// that were cut out and put back are above it (docs/decisions/020).
constexpr std::size_t kFewPairs = 60;
constexpr double kLeastLikeness = 0.2, kOff = 5, kGoesOn = 0.3;

using Values = std::array<double, kValues>;

double seamLuma(const std::array<float, 3>& c) {
  return 0.2126 * double(c[0]) + 0.7152 * double(c[1]) + 0.0722 * double(c[2]);
}

// The views of all colours in their order, so that outlines drawn anew need no sorting.
class Ordered {
 public:
  explicit Ordered(const Colours& colours) {
    for (int view = 0; view < kViews; ++view) {
      const auto channel = std::size_t(view % 3);
      auto& order = views_[std::size_t(view)];
      order.reserve(colours.size());
      for (std::size_t i = 0; i < colours.size(); ++i) {
        const auto& c = colours[i];
        order.push_back({view < 3 ? c[channel] : c[channel] - float(seamLuma(c)), i});
      }
      std::sort(order.begin(), order.end());
    }
  }
  /// times: how often each colour was drawn; `total` of them in all.
  Values quantiles(const std::vector<int>& times, std::size_t total) const {
    Values out{};
    for (std::size_t view = 0; view < kViews; ++view) {
      std::size_t passed = 0, k = 0;
      float before = views_[view].front().first;
      for (const auto& [value, i] : views_[view]) {
        if (times[i] == 0) continue;
        passed += std::size_t(times[i]);
        // Ranks up to passed − 1 have this value; one that ends between two lies between the one before and this one.
        for (; k < kShares && rankOf(k, total) <= double(passed - 1); ++k) {
          const double at = rankOf(k, total), first = double(passed) - double(times[i]);
          out[view * kShares + k] = at >= first ? double(value) : double(before) + (at - (first - 1)) * double(value - before);
        }
        before = value;
      }
    }
    return out;
  }

 private:
  static double rankOf(std::size_t k, std::size_t total) { return (0.05 + 0.9 * double(k) / (kShares - 1)) * double(total - 1); }
  std::array<std::vector<std::pair<float, std::size_t>>, kViews> views_;
};

Values quantilesOf(const Colours& colours) {
  return Ordered(colours).quantiles(std::vector<int>(colours.size(), 1), colours.size());
}

Values difference(const Values& a, const Values& b) {
  Values d{};
  for (std::size_t i = 0; i < d.size(); ++i) d[i] = a[i] - b[i];
  return d;
}
// By how much, and together with which others, each value may be off by chance: the inverse of that.
using Precision = std::vector<double>;  // kValues × kValues
double dot(const Values& a, const Values& b, const Precision& p) {
  double sum = 0;
  for (std::size_t i = 0; i < a.size(); ++i) {
    if (a[i] == 0) continue;
    double row = 0;
    for (std::size_t k = 0; k < b.size(); ++k) row += p[i * b.size() + k] * b[k];
    sum += a[i] * row;
  }
  return sum;
}

Colours changedAll(const SeamChange& change, const Colours& colours) {
  Colours out;
  out.reserve(colours.size());
  for (const auto& c : colours) {
    const auto to = changed(change, {double(c[0]), double(c[1]), double(c[2])});
    out.push_back({float(to[0]), float(to[1]), float(to[2])});
  }
  return out;
}

// What differs, how sure it is, and the same for outlines drawn anew.
struct Difference {
  Values outside, by;
  Precision weight;
  std::vector<Values> draws;
};
Difference differenceOf(const Colours& in, const Colours& out) {
  Difference d;
  const Ordered inside(in), outside(out);
  const std::vector<int> once(in.size(), 1);
  d.outside = outside.quantiles(once, in.size());
  d.by = difference(inside.quantiles(once, in.size()), d.outside);
  DrawnAnew drawn(in.size(), kStretches, 7);
  // Some draws say how the values go together, others how far off an amount is: the same ones would flatter it.
  cv::Mat covariance = cv::Mat::zeros(kValues, kValues, CV_64F);
  for (int k = 0; k < 3 * kDraws; ++k) {
    const std::vector<std::size_t> of = drawn.next();
    std::vector<int> times(in.size(), 0);
    for (const std::size_t i : of) ++times[i];
    const Values draw = difference(inside.quantiles(times, of.size()), outside.quantiles(times, of.size()));
    if (k % 3 == 0) {
      d.draws.push_back(draw);
      continue;
    }
    const Values off = difference(draw, d.by);
    for (int i = 0; i < kValues; ++i) {
      for (int j = 0; j < kValues; ++j)
        covariance.at<double>(i, j) += off[std::size_t(i)] * off[std::size_t(j)] * (i == j ? 1 : kTogether) / (2 * kDraws);
    }
  }
  for (int i = 0; i < kValues; ++i) covariance.at<double>(i, i) += kLeastNoise * kLeastNoise;
  const cv::Mat inverse = covariance.inv(cv::DECOMP_CHOLESKY);
  d.weight.assign(inverse.ptr<double>(), inverse.ptr<double>() + kValues * kValues);
  return d;
}

struct Fitted {
  SeamChange change;
  double left = 0;  // of the weighted squares
  double sure = 0;  // amounts of spread
};

// The derivative by a change's amount, taken about as wide as the change is.
Values slopeOf(const Colours& out, const Difference& d, SeamChange step) {
  const double by = step.kind == Kind::cast && step.amount == 0 ? step.blue : step.amount;
  Values s = difference(quantilesOf(changedAll(step, out)), d.outside);
  for (double& v : s) v /= by;
  return s;
}

Fitted fitOne(const Colours& out, const Difference& d, Kind kind) {
  Fitted f;
  f.change.kind = kind;
  double amount = 0.05;
  Values slope{};
  for (int round = 0; round < 3; ++round) {
    SeamChange step = f.change;
    step.amount = std::abs(amount) < 0.005 ? 0.005 : amount;
    slope = slopeOf(out, d, step);
    const double strength = dot(slope, slope, d.weight);
    if (strength <= 0) break;
    amount = std::clamp(dot(d.by, slope, d.weight) / strength, -0.9, 3.0);
  }
  f.change.amount = amount;
  const double strength = dot(slope, slope, d.weight);
  Values rest = d.by;
  for (std::size_t i = 0; i < rest.size(); ++i) rest[i] -= amount * slope[i];
  f.left = dot(rest, rest, d.weight);
  double squares = 0;
  for (const Values& draw : d.draws) squares += std::pow(dot(draw, slope, d.weight) / std::max(1e-12, strength) - amount, 2);
  f.change.spread = std::sqrt(squares / kDraws);
  f.sure = std::abs(amount) / std::max(1e-6, f.change.spread);
  return f;
}

Fitted fitCast(const Colours& out, const Difference& d) {
  Fitted f;
  f.change.kind = Kind::cast;
  const auto stepOf = [](double red, double blue) {
    SeamChange s;
    s.kind = Kind::cast;
    s.amount = red, s.blue = blue;
    return s;
  };
  double red = 0.05, blue = 0.05;
  Values r{}, b{};
  const auto solve = [&](const Values& by) {
    const double rr = dot(r, r, d.weight), rb = dot(r, b, d.weight), bb = dot(b, b, d.weight), det = rr * bb - rb * rb;
    const double dr = dot(by, r, d.weight), db = dot(by, b, d.weight);
    return det > 1e-12 ? std::pair((dr * bb - db * rb) / det, (db * rr - dr * rb) / det) : std::pair(0.0, 0.0);
  };
  for (int round = 0; round < 3; ++round) {
    r = slopeOf(out, d, stepOf(std::abs(red) < 0.01 ? 0.01 : red, 0));
    b = slopeOf(out, d, stepOf(0, std::abs(blue) < 0.01 ? 0.01 : blue));
    std::tie(red, blue) = solve(d.by);
    red = std::clamp(red, -1.5, 1.5), blue = std::clamp(blue, -1.5, 1.5);
  }
  f.change.amount = red, f.change.blue = blue;
  Values rest = d.by;
  for (std::size_t i = 0; i < rest.size(); ++i) rest[i] -= red * r[i] + blue * b[i];
  f.left = dot(rest, rest, d.weight);
  double squares = 0;
  for (const Values& draw : d.draws) {
    const auto [dr, db] = solve(draw);
    squares += std::pow(dr - red, 2) + std::pow(db - blue, 2);
  }
  f.change.spread = std::sqrt(squares / kDraws);
  f.sure = std::hypot(red, blue) / std::max(1e-6, f.change.spread);
  return f;
}

// A cast bends to the data in two ways, the others in one, and a surface that is lit a little otherwise looks like a change of
// the middle: they must leave clearly less.
double mustLeave(Kind kind) {
  return kind == Kind::cast ? 0.75 : (kind == Kind::middle ? 0.4 : 1);
}
double sureOf(Kind kind) {
  return kind == Kind::middle ? 2 * kSure : kSure;
}
// Of two causes that leave about as much, the one that is clearly surer.
constexpr double kAsMuch = 1.15, kSurer = 1.25;
bool better(double left, const Fitted& f, double bestLeft, const Fitted& best) {
  if (left * kAsMuch < bestLeft) return true;
  if (left > bestLeft * kAsMuch) return false;
  if (f.sure > kSurer * best.sure || best.sure > kSurer * f.sure) return f.sure > best.sure;
  return left < bestLeft;
}

std::optional<Fitted> likeliest(const Colours& in, const Colours& out, std::optional<Kind> without) {
  const Difference d = differenceOf(in, out);
  const double all = dot(d.by, d.by, d.weight);
  std::optional<Fitted> best;
  double bestLeft = 0;
  for (const Kind kind : kKinds) {
    if (without == kind) continue;
    Fitted f = kind == Kind::cast ? fitCast(out, d) : fitOne(out, d, kind);
    if (f.sure < sureOf(kind)) continue;
    f.change.explains = all > 0 ? std::clamp(1 - f.left / all, 0.0, 1.0) : 0;
    const double left = f.left / mustLeave(kind);
    if (!best || better(left, f, bestLeft, *best)) best = f, bestLeft = left;
  }
  return best;
}

}  // namespace

std::array<double, 3> changed(const SeamChange& change, const std::array<double, 3>& c) {
  std::array<double, 3> to = c;
  const double luma = 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
  for (std::size_t i = 0; i < 3; ++i) {
    switch (change.kind) {
      case Kind::black:
        to[i] = change.amount + (1 - change.amount) * c[i];
        break;
      case Kind::white:
        to[i] = (1 + change.amount) * c[i];
        break;
      case Kind::middle:
        to[i] = std::pow(std::max(0.0, c[i]), std::exp(change.amount));
        break;
      case Kind::cast:
        if (i != 1)
          to[i] = image::encodedFromLinear(
              std::min(1.0, image::linearFromEncoded(c[i]) * std::exp(i == 0 ? change.amount : change.blue)));
        break;
      case Kind::saturation:
        to[i] = luma + (1 + change.amount) * (c[i] - luma);
        break;
    }
    to[i] = std::clamp(to[i], 0.0, 1.0);
  }
  return to;
}

AcrossSeam acrossSeam(const SeamPairs& pairs) {
  AcrossSeam across;
  if (pairs.inside.size() < kFewPairs || pairs.likeness < kLeastLikeness) return across;
  Colours in, out;
  const std::size_t step = (pairs.inside.size() + kMostPairs - 1) / kMostPairs;
  for (std::size_t i = 0; i < pairs.inside.size(); i += step) {
    in.push_back(pairs.inside[i]);
    out.push_back(pairs.outside[i]);
  }
  const auto first = likeliest(in, out, std::nullopt);
  if (first) out = changedAll(first->change, out);
  double squares = 0;
  for (const double v : difference(quantilesOf(in), quantilesOf(out))) squares += v * v;
  across.surfaceContinues = pairs.likeness - kOff * std::sqrt(squares / kValues) > kGoesOn;
  if (!across.surfaceContinues || !first || first->change.explains < kExplains) return across;
  across.changes.push_back(first->change);
  const auto second = likeliest(in, out, first->change.kind);
  if (second && second->sure >= kSecondSure && second->change.explains >= kSecondExplains)
    across.changes.push_back(second->change);
  return across;
}

}  // namespace hseam::measure
