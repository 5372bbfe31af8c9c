#include "core/path/fit.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/path/corners.h"
#include "core/path/fit_cubic.h"
#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

// Cubics for one run of points, each as long as the tolerance allows. A following one leaves as the last arrived.
void fitRun(std::span<const Point> run, const Ends& ends, double tolerance, std::vector<Cubic>& out, double& deviation) {
  std::size_t from = 0;
  const std::size_t end = run.size() - 1;
  std::optional<Point> start = ends.leaving;
  while (from < end) {
    const auto attempt = [&](std::size_t to) {
      return fitCubic(run.subspan(from, to - from + 1), {start, to == end ? ends.arriving : std::nullopt}, tolerance);
    };
    std::size_t good = from + 1, bad = end + 1;
    Fitted best = attempt(good);
    for (std::size_t step = 8; good < end; step *= 2) {
      const std::size_t to = std::min(end, from + step);
      if (to <= good) continue;
      const Fitted f = attempt(to);
      if (f.deviation > tolerance) {
        bad = to;
        break;
      }
      good = to, best = f;
    }
    while (bad - good > std::max<std::size_t>(1, (good - from) / 32)) {
      const std::size_t middle = (good + bad) / 2;
      if (middle > end) break;
      if (const Fitted f = attempt(middle); f.deviation <= tolerance) {
        good = middle, best = f;
      } else {
        bad = middle;
      }
    }
    out.push_back(best.cubic);
    deviation = std::max(deviation, best.deviation);
    start = unit(best.cubic.p3 - best.cubic.p2);
    from = good;
  }
}

Outline outlineOf(const std::vector<Cubic>& cubics, const std::vector<bool>& cornerAtStart) {
  Outline o;
  o.closed = true;
  const std::size_t n = cubics.size();
  for (std::size_t i = 0; i < n; ++i) {
    const Cubic &now = cubics[i], &before = cubics[(i + n - 1) % n];
    o.nodes.push_back({now.p0, before.p2, now.p1, !cornerAtStart[i]});
  }
  return o;
}

// Fewest cubics: which places of a run a cubic reaches within the tolerance is found for each, and then the shortest way through
// them. Directions at the joints are the contour's own, so that cubics do not depend on one another.
class FewestCubics {
 public:
  // run: closed runs end where they begin. Without a direction an end is a corner.
  FewestCubics(std::span<const Point> run, bool closed, double tolerance) : run_(run), closed_(closed), tolerance_(tolerance) {
    constexpr double kApart = 4;  // px between places
    double gone = kApart;
    for (std::size_t i = 0; i + 1 < run.size(); ++i) {
      if (gone >= kApart || i == 0) places_.push_back(i), gone = 0;
      gone += length(run[i + 1] - run[i]);
    }
    if (!closed) places_.push_back(run.size() - 1);
    count_ = int(places_.size());
    for (int i = 0; i < count_; ++i) {
      const bool corner = !closed && (i == 0 || i == count_ - 1);
      directions_.push_back(corner ? std::nullopt : std::optional(directionAt(places_[std::size_t(i)])));
    }
    for (int i = 0; i < count_; ++i) reach_.push_back(reachOf(i));
  }

  void into(std::vector<Cubic>& out, double& deviation) const {
    std::vector<int> best;
    const int starts = closed_ ? std::min(count_, reach_[0]) : 1;
    for (int s = 0; s < starts; ++s) {
      std::vector<int> way = wayFrom(s);
      if (best.empty() || way.size() < best.size()) best = std::move(way);
    }
    for (std::size_t k = 0; k + 1 < best.size(); ++k) {
      const Fitted f = attempt(best[k], best[k + 1]);
      if (f.deviation <= tolerance_) {
        out.push_back(f.cubic);
        deviation = std::max(deviation, f.deviation);
        continue;
      }
      // What lies between two that can be reached need not be reached itself.
      const std::vector<Point> part = pointsOf(best[k], best[k + 1]);
      fitRun(part, endsOf(best[k], best[k + 1]), tolerance_, out, deviation);
    }
  }

 private:
  // Closed runs go on after their end.
  std::size_t pointOf(int place) const {
    const int n = closed_ ? count_ : count_ + 1;
    return places_[std::size_t(place % n)] + std::size_t(place / n) * (run_.size() - 1);
  }
  std::vector<Point> pointsOf(int from, int to) const {
    std::vector<Point> points;
    const std::size_t n = run_.size() - (closed_ ? 1 : 0);
    for (std::size_t i = pointOf(from); i <= pointOf(to); ++i) points.push_back(run_[closed_ ? i % n : i]);
    return points;
  }
  Point directionAt(std::size_t i) const {
    constexpr double kReach = 5;
    if (closed_) return direction(run_.first(run_.size() - 1), std::ptrdiff_t(i), kReach, 0);
    std::size_t a = i, b = i;
    while (a > 0 && length(run_[a] - run_[i]) < kReach) --a;
    while (b + 1 < run_.size() && length(run_[b] - run_[i]) < kReach) ++b;
    return unit(run_[b] - run_[a]);
  }
  Ends endsOf(int from, int to) const {
    const auto& leaving = directions_[std::size_t(from % count_)];
    const auto& arriving = directions_[std::size_t(to % count_)];
    return {leaving, arriving ? std::optional(*arriving * -1) : std::nullopt};
  }
  Fitted attempt(int from, int to) const { return fitCubic(pointsOf(from, to), endsOf(from, to), tolerance_); }
  // The furthest place, counted on from this one; found by doubling and halving.
  int reachOf(int from) const {
    const int most = closed_ ? from + count_ : count_ - 1;
    // One curve from corner to corner may fit where shorter pieces, bound in their directions, do not.
    if (!closed_ && attempt(from, most).deviation <= tolerance_) return most - from;
    int good = std::min(from + 1, most), bad = most + 1;
    for (int step = 4; good < most; step *= 2) {
      const int to = std::min(most, from + step);
      if (to <= good) continue;
      if (attempt(from, to).deviation > tolerance_) {
        bad = to;
        break;
      }
      good = to;
    }
    while (bad - good > 1) {
      const int middle = (good + bad) / 2;
      (attempt(from, middle).deviation <= tolerance_ ? good : bad) = middle;
    }
    return good - from;
  }
  // The places of the shortest way from a place to the end, or round to itself; of equally short ones that of the shorter
  // strides.
  std::vector<int> wayFrom(int start) const {
    const int end = closed_ ? start + count_ : count_ - 1, n = end - start + 1;
    struct Best {
      int cubics = 1 << 30, longest = 0, from = -1;
    };
    std::vector<Best> best(static_cast<std::size_t>(n));
    best[0] = {0, 0, -1};
    for (int i = 0; i < n - 1; ++i) {
      const Best& here = best[std::size_t(i)];
      const int reach = reach_[std::size_t((start + i) % count_)];
      for (int j = i + 1; j <= std::min(n - 1, i + reach); ++j) {
        Best& there = best[std::size_t(j)];
        const int cubics = here.cubics + 1, longest = std::max(here.longest, j - i);
        if (cubics < there.cubics || (cubics == there.cubics && longest < there.longest)) there = {cubics, longest, i};
      }
    }
    std::vector<int> way;
    for (int i = n - 1; i >= 0; i = best[std::size_t(i)].from) way.push_back(start + i);
    std::reverse(way.begin(), way.end());
    return way;
  }

  std::span<const Point> run_;
  bool closed_;
  double tolerance_;
  std::vector<std::size_t> places_;  // indices into the run
  std::vector<std::optional<Point>> directions_;
  std::vector<int> reach_;
  int count_ = 0;
};

// The fewer of two ways: the shortest way through places, and each cubic as long as it gets from the start, whose directions
// nothing binds.
void fitFewest(std::span<const Point> run, const Ends& ends, bool closed, double tolerance, std::vector<Cubic>& out,
               double& deviation) {
  std::vector<Cubic> fewest, longest;
  double ofFewest = 0, ofLongest = 0;
  FewestCubics(run, closed, tolerance).into(fewest, ofFewest);
  fitRun(run, ends, tolerance, longest, ofLongest);
  const bool first = fewest.size() <= longest.size();
  const std::vector<Cubic>& better = first ? fewest : longest;
  out.insert(out.end(), better.begin(), better.end());
  deviation = std::max(deviation, first ? ofFewest : ofLongest);
}

Fit fitBetween(std::span<const Point> polygon, const std::vector<std::size_t>& corners, double tolerance) {
  Fit fit;
  if (polygon.size() < 4) return fit;
  std::vector<Cubic> cubics;
  std::vector<bool> isCorner;
  if (corners.empty()) {
    std::vector<Point> run(polygon.begin(), polygon.end());
    run.push_back(run.front());
    constexpr double kReach = 8;
    const Point leaving = direction(polygon, 0, kReach, 0);
    fitFewest(run, {leaving, leaving * -1}, true, tolerance, cubics, fit.deviationPx);
    isCorner.assign(cubics.size(), false);
  }
  constexpr double kRounded = 1.6;  // px beside a corner that pixels have rounded off
  for (std::size_t k = 0; k < corners.size(); ++k) {
    const std::size_t a = corners[k], b = k + 1 < corners.size() ? corners[k + 1] : corners[0] + polygon.size();
    const Point from = cornerPoint(polygon, a), to = cornerPoint(polygon, b % polygon.size());
    std::vector<Point> run = {from};
    for (std::size_t i = a + 1; i < b; ++i) {
      const Point& p = polygon[i % polygon.size()];
      if (length(p - from) > kRounded && length(p - to) > kRounded) run.push_back(p);
    }
    run.push_back(to);
    const std::size_t before = cubics.size();
    fitFewest(run, {}, false, tolerance, cubics, fit.deviationPx);
    isCorner.resize(cubics.size(), false);
    isCorner[before] = true;
  }
  fit.outline = outlineOf(cubics, isCorner);
  return fit;
}

}  // namespace

Fit fitted(std::span<const Point> polygon, double tolerancePx, double cornerDeg) {
  return fitBetween(polygon, cornersOf(polygon, cornerDeg), tolerancePx);
}

Fit refitted(const Outline& outline, double tolerancePx) {
  // Points about a px apart, with the outline's own corners among them.
  std::vector<Point> points;
  std::vector<std::size_t> corners;
  for (int i = 0; i < segmentCount(outline); ++i) {
    const Cubic c = segment(outline, i);
    const Node& n = outline.nodes[std::size_t(i)];
    const Point in = unit(n.at - n.in), out = unit(n.out - n.at);
    if (!n.smooth && !(dot(in, out) > 0.999)) corners.push_back(points.size());
    const double reach = length(c.p1 - c.p0) + length(c.p2 - c.p1) + length(c.p3 - c.p2);
    const int steps = std::clamp(int(reach), 4, 4000);
    for (int k = 0; k < steps; ++k) points.push_back(pointAt(c, double(k) / steps));
  }
  Fit fit = fitBetween(points, corners, tolerancePx);
  fit.outline.joins = outline.joins;
  if (fit.outline.nodes.empty() || fit.outline.nodes.size() > outline.nodes.size()) return {outline, 0};
  return fit;
}

Outline without(const Outline& outline, int node) {
  Outline o = outline;
  const int n = int(o.nodes.size());
  if (n < 2) return {};
  const bool end = !o.closed && (node == 0 || node == n - 1);
  if (!end && n > 2) {
    const int before = (node + n - 1) % n;
    const Cubic a = segment(o, before), b = segment(o, node);
    // Were both one curve once, their handles at the node tell where it was split.
    const double reachIn = length(a.p3 - a.p2), reachOut = length(b.p1 - b.p0);
    const double at = reachIn > 0 && reachOut > 0 ? reachIn / (reachIn + reachOut) : 0.5;
    std::vector<Point> points;
    std::vector<double> t;
    constexpr int kSteps = 40;
    for (int k = 0; k <= 2 * kSteps; ++k) {
      const double u = double(k % kSteps) / kSteps;
      points.push_back(k < kSteps ? pointAt(a, u) : pointAt(b, k == 2 * kSteps ? 1 : u));
      t.push_back(k < kSteps ? at * u : at + (1 - at) * (k == 2 * kSteps ? 1 : u));
    }
    const auto either = [](Point first, Point second) { return length(first) > 1e-9 ? first : second; };
    const Point leaving = unit(either(a.p1 - a.p0, a.p2 - a.p0)), arriving = unit(either(b.p2 - b.p3, b.p1 - b.p3));
    const Cubic c = fitCubic(points, {leaving, arriving}, 0, t).cubic;
    o.nodes[std::size_t(before)].out = c.p1;
    o.nodes[std::size_t((node + 1) % n)].in = c.p2;
  }
  o.nodes.erase(o.nodes.begin() + node);
  return o;
}

}  // namespace hseam::path
