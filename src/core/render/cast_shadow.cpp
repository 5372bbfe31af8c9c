// The shadow of an upright caster on the floor, seen through the scene's camera.

#include <algorithm>
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

base::Result<bool> paintCastShadow(const scene::Scene& scene, const scene::CastShadow& s, Caster& caster, const Rect& area,
                                   int level, Planes& out) {
  const scene::FloorCamera camera(scene::floorOf(scene), scene.canvas);
  const Point foot = caster.toScene().map(s.foot);
  const auto card = cardOf(camera, s.light, foot);
  if (!card) return false;
  const double wallZ = wallZOf(camera, s, foot), px = 1 << level;
  // The caster's height and scale where it stands.
  const auto meter = scene::heightAtFoot(camera, foot, 1);
  if (!meter || *meter < 1e-6) return false;
  const double heightM =
      std::hypot(caster.toScene().map({s.foot.x, 0}).x - foot.x, caster.toScene().map({s.foot.x, 0}).y - foot.y) / *meter;
  const double layerPerM = *meter / caster.scale();
  const double spread = std::tan(s.light.sizeDeg * M_PI / 360), cosElevation = std::cos(s.light.elevationDeg * M_PI / 180);
  struct Seen {
    Point layer;
    double radius, share;
  };
  std::vector<Seen> seen(std::size_t(out.count()), Seen{{}, -1, 0});
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY, least = INFINITY, most = 0;
  for (int y = 0, i = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x, ++i) {
      const Point p{(area.x + x + 0.5) * px, (area.y + y + 0.5) * px};
      const auto world = worldAt(camera, wallZ, p);
      const auto on = world ? onCard(camera, *card, *world) : std::nullopt;
      // Beyond twice its height nothing of it can be met.
      if (!on || on->upM > 2 * heightM + 1 || on->upM < -0.2 * heightM) continue;
      const double way = on->alongM / std::max(0.05, cosElevation);  // slant
      Seen& here = seen[std::size_t(i)];
      here.layer = caster.toLayer().map(on->seenAt);
      // The softness of the light's size, and what one px of the level takes in of the foreshortened floor.
      here.radius = std::max(way * spread * layerPerM, 0.5 * px / caster.scale());
      here.share = s.density * std::exp(-on->alongM * card->tanElevation / std::max(1e-6, s.fadeHeights * heightM));
      const double reach = here.radius * 1.6;
      l = std::min(l, here.layer.x - reach), r = std::max(r, here.layer.x + reach);
      t = std::min(t, here.layer.y - reach), b = std::max(b, here.layer.y + reach);
      least = std::min(least, here.radius), most = std::max(most, here.radius);
    }
  }
  const Rect whole = Rect::of(caster.size());
  if (l > whole.right() || r < 0 || t > whole.bottom() || b < 0) return false;
  const auto held = [](double v, int high) { return int(std::clamp(v, -1.0, double(high) + 1)); };
  const int left = held(std::floor(l), whole.width), top = held(std::floor(t), whole.height);
  const Rect need{left, top, held(std::ceil(r), whole.width) - left + 1, held(std::ceil(b), whole.height) - top + 1};
  HSEAM_DO(caster.prepare(need.intersected(whole), least * 0.7, most));
  bool any = false;
  for (int i = 0; i < out.count(); ++i) {
    const Seen& here = seen[std::size_t(i)];
    const float a = here.radius < 0 ? 0.f : float(here.share) * caster.disc(here.layer, here.radius);
    for (int c = 0; c < 3; ++c) out.colour(c)[i] = float(s.colour[std::size_t(c)]);
    out.alpha()[i] = a;
    any |= a > 0;
  }
  return any;
}

}  // namespace hseam::render
