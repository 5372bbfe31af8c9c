// The shadow of an upright caster on the floor, seen through the scene's camera.

#include <algorithm>
#include <array>
#include <cmath>

#include "core/render/caster.h"
#include "core/render/light_parts.h"
#include "core/render/shadow_ways.h"

namespace hseam::render {

using base::Rect;

namespace {

using Met = ShadowWays::Met;

// The picture is gone through in cells of the level's own grid: most are not met at all, or lie wholly in the shadow.
constexpr int kCell = PlaneWay::kRun;
constexpr double kReach = 1.6;  // of a disc, in radii: its places and what they read

struct Cell {
  Rect whole;                 // of the level
  std::optional<Met::By> by;  // what all of it is met by; nothing: places are met one by one
  Caster::Spot spot;
  double least = 0;                 // radius
  double stretch = 1;               // px of the caster for one of the level, at the most
  double near = INFINITY, far = 0;  // metres along
};

void include(Cell& c, const Met& m, double radius) {
  const double reach = radius * kReach;
  Caster::Spot& s = c.spot;
  if (c.far < c.near) {
    s = {m.layer.x - reach, m.layer.y - reach, m.layer.x + reach, m.layer.y + reach, radius};
    c.least = radius;
  } else {
    s.left = std::min(s.left, m.layer.x - reach), s.right = std::max(s.right, m.layer.x + reach);
    s.top = std::min(s.top, m.layer.y - reach), s.bottom = std::max(s.bottom, m.layer.y + reach);
    s.radius = std::max(s.radius, radius), c.least = std::min(c.least, radius);
  }
  c.near = std::min(c.near, m.along), c.far = std::max(c.far, m.along);
}

// Maps of planes take what is convex to what is convex, so that a cell's corners tell where all of it lies, if they lie on one
// plane.
std::optional<Cell> cellOf(const ShadowWays& ways, const Rect& whole, double px, const std::array<Met, 4>& corners) {
  Cell c{whole, {}, {}};
  if (std::all_of(corners.begin(), corners.end(), [&](const Met& m) { return m.by == corners[0].by; })) {
    if (!corners[0].met()) return std::nullopt;
    c.by = corners[0].by;
    for (const Met& m : corners) include(c, m, ways.radius(m.along));
    const auto apart = [&](std::size_t i, std::size_t k) {
      return std::hypot(corners[i].layer.x - corners[k].layer.x, corners[i].layer.y - corners[k].layer.y);
    };
    c.stretch = std::max({apart(0, 1), apart(2, 3), apart(0, 2), apart(1, 3)}) / kCell;
    return c;
  }
  for (int y = whole.y; y < whole.bottom(); ++y) {
    for (int x = whole.x; x < whole.right(); ++x) {
      const Met m = ways.at({(x + 0.5) * px, (y + 0.5) * px});
      if (m.met()) include(c, m, ways.radius(m.along));
    }
  }
  return c.far < c.near ? std::nullopt : std::optional(c);
}

std::vector<Cell> cellsOf(const ShadowWays& ways, const Rect& area, double px, const Rect& caster) {
  const int left = area.x / kCell, top = area.y / kCell;
  const auto across = std::size_t((area.right() + kCell - 1) / kCell - left),
             down = std::size_t((area.bottom() + kCell - 1) / kCell - top);
  const auto rowOf = [&](std::size_t j) {
    std::vector<Met> row;
    row.reserve(across + 1);
    for (std::size_t i = 0; i <= across; ++i)
      row.push_back(ways.at({(left + double(i)) * kCell * px, (top + double(j)) * kCell * px}));
    return row;
  };
  std::vector<Cell> cells;
  std::vector<Met> above = rowOf(0);
  for (std::size_t j = 0; j < down; ++j) {
    std::vector<Met> below = rowOf(j + 1);
    for (std::size_t i = 0; i < across; ++i) {
      const Rect whole{(left + int(i)) * kCell, (top + int(j)) * kCell, kCell, kCell};
      const auto c = cellOf(ways, whole, px, {above[i], above[i + 1], below[i], below[i + 1]});
      if (c && c->spot.right >= 0 && c->spot.bottom >= 0 && c->spot.left <= caster.right() && c->spot.top <= caster.bottom())
        cells.push_back(*c);
    }
    above = std::move(below);
  }
  return cells;
}

// How far apart places of a cell are worked out, px of the level: what a disc has softened hardly bends over a third of its
// radius.
int stepOf(const Cell& c) {
  const double radiusPx = c.least / std::max(c.stretch, 1e-6);
  return !c.by || radiusPx < 5 ? 1 : radiusPx < 12 ? 2 : radiusPx < 40 ? 4 : 8;
}
Caster::Detail detailOf(const Cell& c) {
  const int step = stepOf(c);
  return step == 1 ? Caster::Detail::few : step == 2 ? Caster::Detail::more : Caster::Detail::many;
}

// How much of the light is kept away by the caster in each place of a cell.
using Kept = std::array<std::array<float, kCell>, kCell>;

void discsOf(const Cell& c, const ShadowWays& ways, const Caster& caster, double px, Kept& kept) {
  const PlaneWay& plane = ways.plane(*c.by);
  PlaneWay::Run run;
  const auto disc = [&](std::size_t k) {
    return caster.disc({double(run.x[k]), double(run.y[k])}, ways.radius(double(run.along[k])), detailOf(c));
  };
  const int step = stepOf(c);
  if (step == 1) {
    for (int y = 0; y < kCell; ++y) {
      plane.at({(c.whole.x + 0.5) * px, (c.whole.y + y + 0.5) * px}, px, run);
      for (std::size_t x = 0; x < kCell; ++x) kept[std::size_t(y)][x] = disc(x);
    }
    return;
  }
  // At the corners of smaller cells, and between them straight.
  const auto parts = std::size_t(kCell / step);
  std::array<std::array<float, kCell / 2 + 1>, kCell / 2 + 1> at;
  for (std::size_t j = 0; j <= parts; ++j) {
    plane.at({c.whole.x * px, (c.whole.y + double(j) * step) * px}, step * px, run);
    for (std::size_t i = 0; i <= parts; ++i) at[j][i] = disc(i);
  }
  const auto share = [&](std::size_t k) { return (float(k % std::size_t(step)) + 0.5f) / float(step); };
  for (std::size_t y = 0; y < kCell; ++y) {
    const std::size_t j = y / std::size_t(step);
    const float v = share(y);
    for (std::size_t x = 0; x < kCell; ++x) {
      const std::size_t i = x / std::size_t(step);
      const float u = share(x);
      kept[y][x] = (at[j][i] * (1 - u) + at[j][i + 1] * u) * (1 - v) + (at[j + 1][i] * (1 - u) + at[j + 1][i + 1] * u) * v;
    }
  }
}

// Multiplies with density and fading. e to a small power about the middle is its series.
void timesShare(const Cell& c, const ShadowWays& ways, double px, Kept& kept) {
  constexpr double kSmall = 0.1;
  const bool small = (c.far - c.near) * ways.fading() < 2 * kSmall;
  const double middle = (c.near + c.far) / 2;
  const auto atMiddle = float(ways.share(middle)), m = float(middle), fading = float(ways.fading());
  PlaneWay::Run run;
  for (int y = 0; y < kCell; ++y) {
    ways.plane(*c.by).at({(c.whole.x + 0.5) * px, (c.whole.y + y + 0.5) * px}, px, run);
    auto& row = kept[std::size_t(y)];
    if (small) {
      for (std::size_t x = 0; x < kCell; ++x) {
        const float z = (m - run.along[x]) * fading;
        row[x] *= atMiddle * (1 + z * (1 + z * (0.5f + z * (1.f / 6))));
      }
    } else {
      for (std::size_t x = 0; x < kCell; ++x) row[x] *= float(ways.share(double(run.along[x])));
    }
  }
}

void oneByOne(const Cell& c, const ShadowWays& ways, const Caster& caster, double px, Kept& kept) {
  for (int y = 0; y < kCell; ++y) {
    for (int x = 0; x < kCell; ++x) {
      const Met m = ways.at({(c.whole.x + x + 0.5) * px, (c.whole.y + y + 0.5) * px});
      kept[std::size_t(y)][std::size_t(x)] =
          m.met() ? float(ways.share(m.along)) * caster.disc(m.layer, ways.radius(m.along)) : 0.f;
    }
  }
}

}  // namespace

base::Result<bool> paintCastShadow(const scene::Scene& scene, const scene::CastShadow& s, Caster& caster, const Rect& area,
                                   int level, Planes& out) {
  const double px = 1 << level;
  const auto ways = ShadowWays::of(scene, s, caster, px);
  if (!ways) return false;
  const Rect whole = Rect::of(caster.size());
  const auto cells = cellsOf(*ways, area, px, whole);
  if (cells.empty()) return false;
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY, least = INFINITY, most = 0;
  for (const Cell& c : cells) {
    l = std::min(l, c.spot.left), r = std::max(r, c.spot.right), t = std::min(t, c.spot.top), b = std::max(b, c.spot.bottom);
    least = std::min(least, c.least * Caster::spread(detailOf(c))), most = std::max(most, c.spot.radius);
  }
  const auto held = [](double v, int high) { return int(std::clamp(v, -1.0, double(high) + 1)); };
  const int left = held(std::floor(l), whole.width), top = held(std::floor(t), whole.height);
  const Rect need{left, top, held(std::ceil(r), whole.width) - left + 1, held(std::ceil(b), whole.height) - top + 1};
  HSEAM_DO(caster.prepare(need.intersected(whole), least, most));
  std::fill_n(out.alpha(), out.count(), 0.f);
  bool any = false;
  Kept kept;
  for (const Cell& c : cells) {
    const auto [lowest, highest] = caster.range(c.spot);
    if (highest <= 0) continue;
    if (!c.by) {
      oneByOne(c, *ways, caster, px, kept);
    } else {
      if (lowest >= 1) {
        for (auto& row : kept) row.fill(1.f);
      } else {
        discsOf(c, *ways, caster, px, kept);
      }
      timesShare(c, *ways, px, kept);
    }
    any = true;
    const Rect seen = c.whole.intersected(area);
    for (int y = seen.y; y < seen.bottom(); ++y)
      std::copy_n(kept[std::size_t(y - c.whole.y)].data() + (seen.x - c.whole.x), seen.width,
                  out.alpha() + (y - area.y) * area.width + seen.x - area.x);
  }
  for (std::size_t c = 0; any && c < 3; ++c) std::fill_n(out.colour(int(c)), out.count(), float(s.colour[c]));
  return any;
}

}  // namespace hseam::render
