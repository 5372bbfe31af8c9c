// The shadow of an upright caster on the floor, seen through the scene's camera.

#include <algorithm>
#include <array>
#include <cmath>

#include "core/render/caster.h"
#include "core/render/light_parts.h"
#include "core/render/lights.h"

namespace hseam::render {

using base::Point;
using base::Rect;
using scene::Vec3;

namespace {

// The caster is taken for a card through its foot that faces the camera; light that comes along the card would find nothing to
// stand in its way, so the card turns until it is off the light's way by this much.
constexpr double kLeastOffDeg = 35;

struct Card {
  Vec3 foot, across;  // unit vector on the floor
  double alongX, alongZ, tanElevation;
};
std::optional<Card> cardOf(const scene::FloorCamera& camera, const scene::LightFrom& light, Point foot) {
  const auto at = camera.floorAt(foot);
  if (!at) return std::nullopt;
  const double azimuth = light.azimuthDeg * M_PI / 180;
  Card c{*at, {1, 0, 0}, -std::sin(azimuth), std::cos(azimuth), std::tan(std::min(light.elevationDeg, 89.5) * M_PI / 180)};
  // The angle between the light's way over the floor and the card, as lines.
  double off = std::atan2(c.alongZ, c.alongX);
  if (off > M_PI / 2) off -= M_PI;
  if (off < -M_PI / 2) off += M_PI;
  const double least = kLeastOffDeg * M_PI / 180;
  if (std::abs(off) < least) {
    const double turn = off >= 0 ? off - least : off + least;
    c.across = {std::cos(turn), 0, std::sin(turn)};
  }
  return c;
}

std::optional<Shadowed> onCard(const scene::FloorCamera& camera, const Card& card, const Vec3& world) {
  // world − foot = across · a + along · way, on the floor.
  const double dx = world[0] - card.foot[0], dz = world[2] - card.foot[2];
  const double det = card.across[0] * card.alongZ - card.across[2] * card.alongX;
  if (std::abs(det) < 1e-6) return std::nullopt;
  const double a = (dx * card.alongZ - dz * card.alongX) / det, way = (card.across[0] * dz - card.across[2] * dx) / det;
  const double up = world[1] + way * card.tanElevation;
  if (way < 0) return std::nullopt;
  // It is seen where the card stood, had it not turned.
  const auto seen = camera.project({card.foot[0] + a, up, card.foot[2]});
  if (!seen) return std::nullopt;
  return Shadowed{a, up, way, *seen};
}

// The floor, or the wall where one stands in the way.
std::optional<Vec3> worldAt(const scene::FloorCamera& camera, double wallZ, Point px) {
  auto floor = camera.floorAt(px);
  if (wallZ <= 0 || (floor && (*floor)[2] <= wallZ)) return floor;
  const Vec3 d = camera.ray(px), from = camera.position();
  if (d[2] < 1e-9) return std::nullopt;
  const double t = (wallZ - from[2]) / d[2];
  return Vec3{from[0] + t * d[0], from[1] + t * d[1], wallZ};
}

double wallZOf(const scene::FloorCamera& camera, const scene::CastShadow& s, Point foot) {
  if (s.wallY <= 0) return 0;
  const auto at = camera.floorAt({foot.x, s.wallY});
  return at ? (*at)[2] : 0;
}

}  // namespace

std::optional<Shadowed> shadowedBy(const scene::FloorCamera& camera, const scene::CastShadow& s, Point foot, Point px) {
  const auto card = cardOf(camera, s.light, foot);
  const auto world = card ? worldAt(camera, wallZOf(camera, s, foot), px) : std::nullopt;
  return world ? onCard(camera, *card, *world) : std::nullopt;
}

namespace {

// Where a px of the scene lies behind the caster, seen from the light, and how the shadow is there.
class Ways {
 public:
  struct Met {
    // What keeps it from being met: the same answer at the corners of a cell holds within.
    enum class By { floor, wall, sky, besides, above, below } by = By::sky;
    Point layer;        // px of the caster
    double radius = 0;  // px of the caster: the light's size as seen from here, or what one px of the level takes in
    double share = 0;   // density and fading
    bool met() const { return by == By::floor || by == By::wall; }
  };

  static std::optional<Ways> of(const scene::Scene& scene, const scene::CastShadow& s, const Caster& caster, double px) {
    const scene::FloorCamera camera(scene::floorOf(scene), scene.canvas);
    const Point foot = caster.placesToScene().map(s.foot);
    const auto card = cardOf(camera, s.light, foot);
    if (!card) return std::nullopt;
    const auto meter = scene::heightAtFoot(camera, foot, 1);
    if (!meter || *meter < 1e-6) return std::nullopt;
    return Ways(camera, *card, s, caster, foot, *meter, px);
  }

  Met at(Point scenePx) const {
    Met m;
    const auto world = worldAt(camera_, wallZ_, scenePx);
    if (!world) return m;
    const auto on = onCard(camera_, card_, *world);
    m.by = Met::By::besides;
    if (!on) return m;
    // Beyond twice its height nothing of it can be met.
    m.by = on->upM > 2 * heightM_ + 1 ? Met::By::above : on->upM < -0.2 * heightM_ ? Met::By::below : Met::By::besides;
    if (m.by != Met::By::besides) return m;
    m.by = wallZ_ > 0 && (*world)[2] >= wallZ_ ? Met::By::wall : Met::By::floor;
    m.layer = caster_.toLayer().map(on->seenAt);
    m.radius = std::max(on->alongM * softening_, leastRadius_);
    m.share = shadow_.density * std::exp(-on->alongM * fading_);
    return m;
  }

 private:
  Ways(const scene::FloorCamera& camera, const Card& card, const scene::CastShadow& s, const Caster& caster, Point foot,
       double pxPerM, double px)
      : camera_(camera), card_(card), shadow_(s), caster_(caster), wallZ_(wallZOf(camera, s, foot)) {
    const Point top = caster.headAbove(s.foot);
    heightM_ = std::hypot(top.x - foot.x, top.y - foot.y) / pxPerM;
    const double slant = 1 / std::max(0.05, std::cos(s.light.elevationDeg * M_PI / 180));
    softening_ = slant * std::tan(s.light.sizeDeg * M_PI / 360) * pxPerM / caster.scale();
    leastRadius_ = 0.5 * px / caster.scale();
    fading_ = card.tanElevation / std::max(1e-6, s.fadeHeights * heightM_);
  }
  scene::FloorCamera camera_;
  Card card_;
  const scene::CastShadow& shadow_;
  const Caster& caster_;
  double wallZ_, heightM_ = 0, softening_ = 0, leastRadius_ = 0, fading_ = 0;
};

// The picture is gone through in cells: most are not met at all, or lie wholly in the shadow.
constexpr int kCell = 8;
constexpr double kReach = 1.6;  // of a disc, in radii: its places and what they read

struct Cell {
  Rect px;  // of the level
  Caster::Spot spot;
  double least = 0;  // radius
};

void include(Cell& c, const Ways::Met& m, bool first) {
  const double reach = m.radius * kReach;
  Caster::Spot& s = c.spot;
  if (first) {
    s = {m.layer.x - reach, m.layer.y - reach, m.layer.x + reach, m.layer.y + reach, m.radius};
    c.least = m.radius;
    return;
  }
  s.left = std::min(s.left, m.layer.x - reach), s.right = std::max(s.right, m.layer.x + reach);
  s.top = std::min(s.top, m.layer.y - reach), s.bottom = std::max(s.bottom, m.layer.y + reach);
  s.radius = std::max(s.radius, m.radius), c.least = std::min(c.least, m.radius);
}

// Maps of planes take what is convex to what is convex, so that a cell's corners tell where all of it lies, if they lie on one
// plane.
std::optional<Cell> cellOf(const Ways& ways, const Rect& px, double scale) {
  std::array<Ways::Met, 4> corners;
  for (int k = 0; k < 4; ++k)
    corners[std::size_t(k)] = ways.at({(k % 2 ? px.right() : px.x) * scale, (k / 2 ? px.bottom() : px.y) * scale});
  const bool alike = std::all_of(corners.begin(), corners.end(), [&](const auto& m) { return m.by == corners[0].by; });
  Cell c{px, {}, 0};
  if (alike) {
    if (!corners[0].met()) return std::nullopt;
    for (std::size_t k = 0; k < 4; ++k) include(c, corners[k], k == 0);
    return c;
  }
  bool any = false;
  for (int y = px.y; y < px.bottom(); ++y) {
    for (int x = px.x; x < px.right(); ++x) {
      const auto m = ways.at({(x + 0.5) * scale, (y + 0.5) * scale});
      if (!m.met()) continue;
      include(c, m, !any);
      any = true;
    }
  }
  return any ? std::optional(c) : std::nullopt;
}

// Cells of the level's own grid.
std::vector<Cell> cellsOf(const Ways& ways, const Rect& area, double scale, const Rect& whole) {
  std::vector<Cell> cells;
  for (int y = area.y / kCell * kCell; y < area.bottom(); y += kCell) {
    for (int x = area.x / kCell * kCell; x < area.right(); x += kCell) {
      const auto c = cellOf(ways, Rect{x, y, kCell, kCell}.intersected(area), scale);
      if (c && c->spot.right >= 0 && c->spot.bottom >= 0 && c->spot.left <= whole.right() && c->spot.top <= whole.bottom())
        cells.push_back(*c);
    }
  }
  return cells;
}

}  // namespace

base::Result<bool> paintCastShadow(const scene::Scene& scene, const scene::CastShadow& s, Caster& caster, const Rect& area,
                                   int level, Planes& out) {
  const double px = 1 << level;
  const auto ways = Ways::of(scene, s, caster, px);
  if (!ways) return false;
  const Rect whole = Rect::of(caster.size());
  const auto cells = cellsOf(*ways, area, px, whole);
  if (cells.empty()) return false;
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY, least = INFINITY, most = 0;
  for (const Cell& c : cells) {
    l = std::min(l, c.spot.left), r = std::max(r, c.spot.right), t = std::min(t, c.spot.top), b = std::max(b, c.spot.bottom);
    least = std::min(least, c.least), most = std::max(most, c.spot.radius);
  }
  const auto held = [](double v, int high) { return int(std::clamp(v, -1.0, double(high) + 1)); };
  const int left = held(std::floor(l), whole.width), top = held(std::floor(t), whole.height);
  const Rect need{left, top, held(std::ceil(r), whole.width) - left + 1, held(std::ceil(b), whole.height) - top + 1};
  HSEAM_DO(caster.prepare(need.intersected(whole), least * 0.7, most));
  for (std::size_t c = 0; c < 3; ++c) std::fill_n(out.colour(int(c)), out.count(), float(s.colour[c]));
  std::fill_n(out.alpha(), out.count(), 0.f);
  bool any = false;
  for (const Cell& c : cells) {
    const auto [lowest, highest] = caster.range(c.spot);
    if (highest <= 0) continue;
    for (int y = c.px.y; y < c.px.bottom(); ++y) {
      float* alpha = out.alpha() + (y - area.y) * area.width - area.x;
      for (int x = c.px.x; x < c.px.right(); ++x) {
        const auto m = ways->at({(x + 0.5) * px, (y + 0.5) * px});
        if (!m.met()) continue;
        alpha[x] = float(m.share) * (lowest >= 1 ? 1.f : caster.disc(m.layer, m.radius));
        any |= alpha[x] > 0;
      }
    }
  }
  return any;
}

}  // namespace hseam::render
