#include "core/path/contour.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

namespace hseam::path {
namespace {

using base::Point;
using base::Rect;

constexpr float kHalf = 0.5f;

// An edge of the grid of pixel centres: from (x, y) to the right, or downwards.
using Edge = std::int64_t;
Edge edgeAt(int x, int y, bool down) {
  return ((std::int64_t(y) + 1) << 33) | ((std::int64_t(x) + 1) << 1) | std::int64_t(down);
}

struct Step {
  Edge to;
  Point from;  // where this edge is crossed
};
using Steps = std::unordered_map<Edge, Step>;

// One cell between four pixel centres; its corners clockwise from the top left.
void march(int x, int y, const float (&v)[4], Steps& steps) {
  int inside = 0;
  for (int i = 0; i < 4; ++i) inside |= (v[i] >= kHalf) << i;
  if (inside == 0 || inside == 15) return;
  const Edge edges[4] = {edgeAt(x, y, false), edgeAt(x + 1, y, true), edgeAt(x, y + 1, false), edgeAt(x, y, true)};
  const auto crossing = [&](int e) -> Point {
    const int a = e, b = (e + 1) % 4;  // edge e runs from corner e to the next
    const double t = double(kHalf - v[a]) / double(v[b] - v[a]);
    const double cx[4] = {0, 1, 1, 0}, cy[4] = {0, 0, 1, 1};
    return {x + 0.5 + cx[a] + (cx[b] - cx[a]) * t, y + 0.5 + cy[a] + (cy[b] - cy[a]) * t};
  };
  // With the covered side on the right, the contour enters a cell where the corner before the edge is covered and leaves where
  // the one after it is.
  const auto is = [&](int corner) { return (inside >> (corner & 3) & 1) != 0; };
  int enters[2], leaves[2], n = 0, m = 0;
  for (int e = 0; e < 4; ++e) {
    if (is(e) && !is(e + 1)) enters[n++] = e;
    if (!is(e) && is(e + 1)) leaves[m++] = e;
  }
  if (n == 1) {
    steps[edges[enters[0]]] = {edges[leaves[0]], crossing(enters[0])};
    return;
  }
  // A saddle: the middle decides whether the covered corners hang together.
  const bool joined = (v[0] + v[1] + v[2] + v[3]) / 4 >= kHalf;
  for (int k = 0; k < 2; ++k) {
    const int e = enters[k], next = (e + 1) % 4, before = (e + 3) % 4;
    steps[edges[e]] = {edges[joined ? next : before], crossing(e)};
  }
}

std::optional<std::uint8_t> valueOf(const image::TiledImage::Level& level, int column, int row) {
  if (column >= level.columns || row >= level.rows || column < 0 || row < 0) return std::uint8_t(0);
  const auto& uniform = level.tile(column, row)->uniform();
  if (!uniform) return std::nullopt;
  return std::uint8_t((*uniform)[0]);
}

double lengthOf(const std::vector<Point>& p) {
  double sum = 0;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    sum += std::hypot(b.x - a.x, b.y - a.y);
  }
  return sum;
}

double areaOf(const std::vector<Point>& p) {
  double sum = 0;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    sum += a.x * b.y - b.x * a.y;
  }
  return sum / 2;
}

}  // namespace

base::Result<std::vector<Contour>> contours(const image::TiledImage& coverage, double shortestPx, int levelOfDetail) {
  const auto& level = coverage.level(levelOfDetail);
  const base::Size size = level.size;
  Steps steps;
  // Cells whose top left centre lies in a tile; the ring of cells outside the picture belongs to tiles −1.
  for (int row = -1; row < level.rows; ++row) {
    for (int column = -1; column < level.columns; ++column) {
      const auto a = valueOf(level, column, row), b = valueOf(level, column + 1, row), c = valueOf(level, column, row + 1),
                 d = valueOf(level, column + 1, row + 1);
      const bool last = (column + 1) * image::kTileSide > size.width || (row + 1) * image::kTileSide > size.height;
      if (a && b && c && d && *a == *b && *a == *c && *a == *d && (*a == 0 || !last)) continue;
      const int x0 = std::max(-1, column * image::kTileSide), y0 = std::max(-1, row * image::kTileSide);
      const int x1 = std::min((column + 1) * image::kTileSide, size.width),
                y1 = std::min((row + 1) * image::kTileSide, size.height);
      const Rect area = Rect{x0, y0, x1 - x0 + 1, y1 - y0 + 1}.intersected(Rect::of(size));
      if (area.empty()) continue;
      HSEAM_TRY(const image::Raster<std::uint8_t> px, image::read8(coverage, levelOfDetail, area));
      const auto value = [&](int x, int y) { return area.contains(x, y) ? float(*px.at(x - area.x, y - area.y)) / 255.f : 0.f; };
      for (int y = y0; y < y1; ++y) {
        const bool inside = y >= area.y && y + 1 < area.bottom();
        const std::uint8_t *above = inside ? px.row(y - area.y) : nullptr, *below = inside ? px.row(y + 1 - area.y) : nullptr;
        for (int x = x0; x < x1; ++x) {
          // Nearly every cell lies on one side altogether.
          if (inside && x >= area.x && x + 1 < area.right()) {
            const int k = x - area.x,
                      over = (above[k] >= 128) + (above[k + 1] >= 128) + (below[k] >= 128) + (below[k + 1] >= 128);
            if (over == 0 || over == 4) continue;
          }
          const float v[4] = {value(x, y), value(x + 1, y), value(x + 1, y + 1), value(x, y + 1)};
          march(x, y, v, steps);
        }
      }
    }
  }
  std::vector<Contour> all;
  while (!steps.empty()) {
    Contour contour;
    for (auto at = steps.begin(); at != steps.end();) {
      contour.points.push_back(at->second.from);
      const Edge next = at->second.to;
      steps.erase(at);
      at = steps.find(next);
    }
    for (Point& p : contour.points) p = {p.x * (1 << levelOfDetail), p.y * (1 << levelOfDetail)};
    contour.length = lengthOf(contour.points);
    contour.area = areaOf(contour.points);
    if (contour.length >= shortestPx) all.push_back(std::move(contour));
  }
  std::sort(all.begin(), all.end(), [](const Contour& a, const Contour& b) { return a.length > b.length; });
  return all;
}

}  // namespace hseam::path
