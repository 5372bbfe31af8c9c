#include "core/repair/structure_line.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace hseam::repair {
namespace {

using base::Point;
using image::Raster;

constexpr int kHalf = 7, kSide = 2 * kHalf + 1;
constexpr double kStep = 5;        // px between places in the hole
constexpr double kSeenStep = 2;    // px between places where the line is seen
constexpr double kSeenReach = 90;  // px beyond the hole along which it is looked at
constexpr int kAside = 3;          // px to either side: a line drawn by hand is off by as much
constexpr double kWide = 5;        // px on either side of the line that are filled
constexpr float kKnown = 4;        // agreeing with what is there counts more than agreeing with the next patch
constexpr float kOff = 2e-4f;      // a px aside, of a patch's squared differences

struct Place {
  int x, y;
  double along;
};

// Places along a line, a step apart, whole px.
std::vector<Place> places(const StructureLine& line, double step) {
  std::vector<Place> out;
  double along = 0, next = 0;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const double dx = line[i + 1].x - line[i].x, dy = line[i + 1].y - line[i].y, length = std::hypot(dx, dy);
    while (length > 0 && next <= along + length) {
      const double t = (next - along) / length;
      out.push_back({int(std::floor(line[i].x + t * dx)), int(std::floor(line[i].y + t * dy)), next});
      next += step;
    }
    along += length;
  }
  return out;
}

// With both ends carried on straight.
StructureLine extended(const StructureLine& line) {
  StructureLine out = line;
  const auto beyond = [](const Point& from, const Point& to) {
    const double dx = to.x - from.x, dy = to.y - from.y, length = std::max(1e-9, std::hypot(dx, dy));
    return Point{to.x + dx / length * kSeenReach, to.y + dy / length * kSeenReach};
  };
  out.insert(out.begin(), beyond(line[1], line[0]));
  out.push_back(beyond(line[line.size() - 2], line.back()));
  return out;
}

class Chain {
 public:
  Chain(Raster<float>& colours, const Raster<std::uint8_t>& hole, const Raster<std::uint8_t>& source)
      : colours_(colours), hole_(hole), source_(source) {}

  bool fill(const StructureLine& line, Raster<std::uint8_t>& closed) {
    if (line.size() < 2) return false;
    std::vector<Place> targets;
    for (const Place& p : places(line, kStep)) {
      if (inside(p.x, p.y) && touchesHole(p.x, p.y)) targets.push_back(p);
    }
    if (targets.empty()) return false;
    seen(extended(line), targets);
    if (seen_.empty()) return false;
    const std::vector<std::size_t> best = leastDisagreement(targets);
    paste(line, targets, best, closed);
    return true;
  }

 private:
  bool inside(int x, int y) const {
    return x >= kHalf && y >= kHalf && x + kHalf < colours_.width() && y + kHalf < colours_.height();
  }
  bool touchesHole(int x, int y) const {
    for (int v = y - kHalf; v <= y + kHalf; ++v) {
      for (int u = x - kHalf; u <= x + kHalf; ++u) {
        if (*hole_.at(u, v)) return true;
      }
    }
    return false;
  }
  bool wholeSource(int x, int y) const {
    if (!inside(x, y)) return false;
    for (int v = y - kHalf; v <= y + kHalf; ++v) {
      for (int u = x - kHalf; u <= x + kHalf; ++u) {
        if (!*source_.at(u, v)) return false;
      }
    }
    return true;
  }

  struct Seen {
    int x, y;
    float off;
  };
  void seen(const StructureLine& line, const std::vector<Place>& targets) {
    seen_.clear();
    // Aside is across the line as a whole.
    const double dx = line.back().x - line.front().x, dy = line.back().y - line.front().y;
    const bool flat = std::abs(dx) > std::abs(dy);
    for (const Place& p : places(line, kSeenStep)) {
      const bool near = std::any_of(targets.begin(), targets.end(),
                                    [&](const Place& t) { return std::hypot(t.x - p.x, t.y - p.y) < kSeenReach + kHalf; });
      if (!near) continue;
      for (int a = -kAside; a <= kAside; ++a) {
        const int x = flat ? p.x : p.x + a, y = flat ? p.y + a : p.y;
        if (wholeSource(x, y)) seen_.push_back({x, y, float(a * a)});
      }
    }
  }

  float difference(int ax, int ay, int bx, int by) const {
    const float *a = colours_.at(ax, ay), *b = colours_.at(bx, by);
    float sum = 0;
    for (int c = 0; c < 3; ++c) sum += (a[c] - b[c]) * (a[c] - b[c]);
    return sum;
  }
  // What the place knows already against a patch.
  float unary(const Place& t, const Seen& s) const {
    float sum = 0;
    int n = 0;
    for (int v = -kHalf; v <= kHalf; ++v) {
      for (int u = -kHalf; u <= kHalf; ++u) {
        if (*hole_.at(t.x + u, t.y + v)) continue;
        sum += difference(t.x + u, t.y + v, s.x + u, s.y + v);
        ++n;
      }
    }
    return (n > 0 ? kKnown * sum / float(kSide * kSide) : 0) + kOff * s.off;
  }
  // Two patches where they overlap.
  float pairwise(const Place& a, const Seen& sa, const Place& b, const Seen& sb) const {
    const int dx = b.x - a.x, dy = b.y - a.y;
    float sum = 0;
    for (int v = std::max(-kHalf, dy - kHalf); v <= std::min(kHalf, dy + kHalf); ++v) {
      for (int u = std::max(-kHalf, dx - kHalf); u <= std::min(kHalf, dx + kHalf); ++u)
        sum += difference(sa.x + u, sa.y + v, sb.x + u - dx, sb.y + v - dy);
    }
    return sum / float(kSide * kSide);
  }

  // Viterbi along the line.
  std::vector<std::size_t> leastDisagreement(const std::vector<Place>& targets) const {
    const std::size_t n = targets.size(), m = seen_.size();
    std::vector<std::vector<std::size_t>> from(n, std::vector<std::size_t>(m, 0));
    std::vector<float> cost(m), next(m);
    for (std::size_t j = 0; j < m; ++j) cost[j] = unary(targets[0], seen_[j]);
    for (std::size_t k = 1; k < n; ++k) {
      for (std::size_t j = 0; j < m; ++j) {
        float least = std::numeric_limits<float>::max();
        for (std::size_t i = 0; i < m; ++i) {
          if (cost[i] >= least) continue;
          const float c = cost[i] + pairwise(targets[k - 1], seen_[i], targets[k], seen_[j]);
          if (c < least) least = c, from[k][j] = i;
        }
        next[j] = least + unary(targets[k], seen_[j]);
      }
      cost.swap(next);
    }
    std::vector<std::size_t> best(n);
    best[n - 1] = std::size_t(std::min_element(cost.begin(), cost.end()) - cost.begin());
    for (std::size_t k = n - 1; k-- > 0;) best[k] = from[k + 1][best[k + 1]];
    return best;
  }

  // Each px from the patch whose middle is nearest.
  void paste(const StructureLine& line, const std::vector<Place>& targets, const std::vector<std::size_t>& best,
             Raster<std::uint8_t>& closed) {
    const Raster<float> before = colours_;
    Raster<float> nearest(colours_.width(), colours_.height(), 1, 1e9f);
    const std::vector<Place> fine = places(line, 1);
    for (std::size_t k = 0; k < targets.size(); ++k) {
      const Place& t = targets[k];
      const Seen& s = seen_[best[k]];
      for (int v = -kHalf; v <= kHalf; ++v) {
        for (int u = -kHalf; u <= kHalf; ++u) {
          const int x = t.x + u, y = t.y + v;
          const float away = float(u * u + v * v);
          if (!*hole_.at(x, y) || away >= *nearest.at(x, y)) continue;
          const bool onLine =
              std::any_of(fine.begin(), fine.end(), [&](const Place& p) { return std::hypot(p.x - x, p.y - y) <= kWide; });
          if (!onLine) continue;
          *nearest.at(x, y) = away;
          std::copy_n(before.at(s.x + u, s.y + v), 3, colours_.at(x, y));
          *closed.at(x, y) = 1;
        }
      }
    }
  }

  Raster<float>& colours_;
  const Raster<std::uint8_t>& hole_;
  const Raster<std::uint8_t>& source_;
  std::vector<Seen> seen_;
};

}  // namespace

bool continueLines(Raster<float>& colours, Raster<std::uint8_t>& hole, const Raster<std::uint8_t>& source,
                   const std::vector<StructureLine>& lines) {
  Raster<std::uint8_t> closed(hole.width(), hole.height(), 1);
  bool any = false;
  Chain chain(colours, hole, source);
  for (const StructureLine& l : lines) any |= chain.fill(l, closed);
  for (std::size_t i = 0; any && i < hole.samples().size(); ++i) {
    if (closed.samples()[i]) hole.samples()[i] = 0;
  }
  return any;
}

}  // namespace hseam::repair
