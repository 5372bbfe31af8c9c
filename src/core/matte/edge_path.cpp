#include "core/matte/edge_path.h"

#include <algorithm>
#include <cmath>

#include "core/matte/closed_line.h"
#include "core/matte/edge_fit.h"
#include "core/path/contour.h"
#include "core/path/fit.h"

namespace hseam::matte {
namespace {

using base::Point;

constexpr double kShortest = 24;   // px
constexpr double kCertain = 0.35;  // of a place, below which its edge is not trusted
constexpr double kWithin = 6;      // px that the outline may move
constexpr double kMostly = 0.5;    // of an outline

// Of each place along the line, normals taken from a smoother one so that they do not swirl.
Unrolled placesOf(const std::vector<Point>& line, double normalsSigma) {
  const auto wide = smoothed(line, normalsSigma);
  const std::size_t n = line.size();
  Unrolled out;
  for (std::size_t k = 0; k < n; ++k) {
    const Point &a = wide[(k + n - 3) % n], &b = wide[(k + 3) % n];
    const double dx = b.x - a.x, dy = b.y - a.y, d = std::max(std::hypot(dx, dy), 1e-9);
    out.places.push_back({line[k], {dy / d, -dx / d}, 0});
  }
  return out;
}

struct Move {
  double outwardsPx = 0, trust = 0;  // trust: how much of the surroundings shows an edge, 0..1
};

// How far each place goes: the median of the trusted ones within `around` places, then a mean of those.
std::vector<Move> movesOf(const FittedEdge& edge, int around, double sigma) {
  const int n = int(edge.outwardsPx.size());
  const auto at = [n](int i) { return std::size_t((i % n + n) % n); };
  std::vector<double> middle(std::size_t(n), 0), weight(std::size_t(n), 0), near;
  for (int i = 0; i < n; ++i) {
    near.clear();
    for (int k = -around; k <= around; ++k) {
      const std::size_t j = at(i + k);
      if (edge.certainty[j] >= kCertain && std::abs(edge.outwardsPx[j]) <= kWithin) near.push_back(edge.outwardsPx[j]);
    }
    if (int(near.size()) <= around) continue;
    std::nth_element(near.begin(), near.begin() + std::ptrdiff_t(near.size() / 2), near.end());
    middle[std::size_t(i)] = near[near.size() / 2], weight[std::size_t(i)] = 1;
  }
  const int reach = int(3 * sigma);
  std::vector<Move> out(std::size_t(n), Move{});
  for (int i = 0; i < n; ++i) {
    double sum = 0, trusted = 0, all = 0;
    for (int k = -reach; k <= reach; ++k) {
      const double w = std::exp(-k * k / (2 * sigma * sigma));
      sum += w * weight[at(i + k)] * middle[at(i + k)], trusted += w * weight[at(i + k)], all += w;
    }
    out[std::size_t(i)] = {sum / std::max(trusted, 1e-9), trusted / all};
  }
  return out;
}

// Twice: the second time from a line that lies nearly on the edge, and so with less smoothing. Where no edge is seen the line
// keeps its corners: it is smoothed by what the steps of pixels need. An outline that mostly lies on no edge was drawn as it is.
base::Result<std::vector<Point>> onTheEdge(const path::Contour& contour, const image::TiledImage& picture) {
  struct Pass {
    double smooth, normals, moves, elsewhere;  // sigmas, px
    int around;
  };
  std::vector<Point> line = resampled(contour.points, contour.length);
  for (const Pass& pass : {Pass{4, 10, 3, 1.2, 9}, Pass{1.5, 5, 1.5, 0.5, 4}}) {
    const auto even = smoothed(line, pass.smooth), elsewhere = smoothed(line, pass.elsewhere);
    const Unrolled places = placesOf(even, pass.normals);
    HSEAM_TRY(const FittedEdge edge, fittedEdge(places, 0, int(places.places.size()), picture, false));
    const auto moves = movesOf(edge, pass.around, pass.moves);
    double trust = 0;
    for (const Move& m : moves) trust += m.trust / double(moves.size());
    if (trust < kMostly) return contour.points;
    for (std::size_t i = 0; i < line.size(); ++i) {
      const Move& m = moves[i];
      const Point& o = places.places[i].outward;
      line[i].x = m.trust * (even[i].x + o.x * m.outwardsPx) + (1 - m.trust) * elsewhere[i].x;
      line[i].y = m.trust * (even[i].y + o.y * m.outwardsPx) + (1 - m.trust) * elsewhere[i].y;
    }
  }
  return line;
}

}  // namespace

base::Result<EdgePath> pathAlongEdge(const image::TiledImage& selection, const image::TiledImage& picture, double tolerancePx,
                                     const base::Progress& progress) {
  HSEAM_TRY(const auto contours, path::contours(selection, kShortest));
  EdgePath out;
  std::vector<path::Outline> holes;
  for (std::size_t i = 0; i < contours.size(); ++i) {
    if (progress.cancelled()) return base::cancelledError();
    std::vector<Point> line = contours[i].points;
    if (!picture.isNull()) {
      HSEAM_TRY(line, onTheEdge(contours[i], picture));
    }
    path::Fit f = path::fitted(line, tolerancePx);
    out.deviationPx = std::max(out.deviationPx, f.deviationPx);
    const bool hole = contours[i].area < 0;
    if (hole) f.outline.joins = path::Joins::takeAway;
    (hole ? holes : out.path.outlines).push_back(std::move(f.outline));
    progress.report(double(i + 1) / double(contours.size()));
  }
  out.path.outlines.insert(out.path.outlines.end(), holes.begin(), holes.end());
  return out;
}

}  // namespace hseam::matte
