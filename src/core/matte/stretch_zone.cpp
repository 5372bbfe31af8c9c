#include "core/matte/stretch_zone.h"

#include <algorithm>
#include <cmath>

#include "core/matte/nearest_place.h"

namespace hseam::matte {
namespace {

constexpr double kEnds = 12;  // px along, over which the result passes into what was there

}  // namespace

StretchZone stretchZone(const Unrolled& outline, int first, int count, int reach, int surroundings, base::Size picture) {
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY;
  for (int i = first; i < first + count; ++i) {
    const base::Point p = outline.places[std::size_t(i)].at;
    l = std::min(l, p.x), t = std::min(t, p.y), r = std::max(r, p.x), b = std::max(b, p.y);
  }
  const base::Rect box{int(l), int(t), int(r - l) + 2, int(b - t) + 2};
  StretchZone z;
  z.window = box.grown(reach + surroundings).intersected(base::Rect::of(picture));
  z.place = NearestPlace(outline, picture).of(z.window, reach);
  z.across = image::Raster<float>(z.window.width, z.window.height);
  z.share = image::Raster<float>(z.window.width, z.window.height);
  const int which = outline.places[std::size_t(first)].outline;
  const auto joins = [&](int i) {
    return i >= 0 && i < int(outline.places.size()) && outline.places[std::size_t(i)].outline == which;
  };
  const bool whole = !joins(first - 1) && !joins(first + count);
  for (int y = 0; y < z.window.height; ++y) {
    for (int x = 0; x < z.window.width; ++x) {
      int& i = *z.place.at(x, y);
      if (i < first || i >= first + count) {
        i = -1;
        continue;
      }
      *z.across.at(x, y) = float(acrossAt(outline.places[std::size_t(i)], z.window.x + x + 0.5, z.window.y + y + 0.5).outwards);
      const double toEnd = std::min(i - first, first + count - 1 - i) + 1;
      *z.share.at(x, y) = whole ? 1.f : float(std::min(1.0, toEnd / kEnds));
    }
  }
  return z;
}

}  // namespace hseam::matte
