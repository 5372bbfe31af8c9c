#include "core/matte/standing.h"

#include <algorithm>

namespace hseam::matte {

using base::Point;
using base::Rect;

base::Result<std::optional<Standing>> standingOf(const image::TiledImage& coverage) {
  constexpr int kSide = 1000;
  int level = 0;
  while (level + 1 < coverage.levelCount() &&
         std::max(coverage.level(level).size.width, coverage.level(level).size.height) > kSide)
    ++level;
  HSEAM_TRY(const auto values, image::readFloat(coverage, level, Rect::of(coverage.level(level).size)));
  auto s = standingIn(values, level);
  if (s) s->covered = s->covered.intersected(Rect::of(coverage.size()));
  return s;
}

std::optional<Standing> standingIn(const image::Raster<float>& values, int level) {
  constexpr double kTouches = 0.025;
  const Rect all = Rect::of({values.width(), values.height()});
  std::vector<int> lowest(std::size_t(all.width), -1);
  int top = all.height, bottom = -1, left = all.width, right = -1;
  for (int y = 0; y < all.height; ++y) {
    for (int x = 0; x < all.width; ++x) {
      if (*values.at(x, y) < 0.5f) continue;
      lowest[std::size_t(x)] = y;
      top = std::min(top, y), bottom = std::max(bottom, y), left = std::min(left, x), right = std::max(right, x);
    }
  }
  if (bottom < 0) return std::nullopt;
  const double k = 1 << level;
  Standing s;
  s.covered = Rect{left, top, right + 1 - left, bottom + 1 - top}.finer(level);
  const int reach = std::max(1, int(kTouches * (bottom + 1 - top)));
  double x = 0;
  for (int column = left; column <= right; ++column) {
    const int y = lowest[std::size_t(column)];
    const bool kept = (column - left) % std::max(1, (right - left) / 63) == 0 || column == right;
    if (y >= 0 && kept) s.below.push_back({(column + 0.5) * k, (y + 1) * k});
    if (y < bottom - reach) continue;
    s.line.push_back({(column + 0.5) * k, (y + 1) * k});
    x += (column + 0.5) * k;
  }
  s.foot = {x / double(s.line.size()), (bottom + 1) * k};
  // A few points are enough, and a single column is widened to a line.
  if (s.line.size() == 1) s.line = {{s.line[0].x - k, s.line[0].y}, {s.line[0].x + k, s.line[0].y}};
  std::vector<Point> few;
  const std::size_t step = std::max<std::size_t>(1, s.line.size() / 48);
  for (std::size_t i = 0; i < s.line.size(); i += step) few.push_back(s.line[i]);
  if (few.back().x != s.line.back().x) few.push_back(s.line.back());
  s.line = std::move(few);
  return s;
}

}  // namespace hseam::matte
