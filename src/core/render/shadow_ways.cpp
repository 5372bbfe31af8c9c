#include "core/render/shadow_ways.h"

#include <algorithm>
#include <cmath>

namespace hseam::render {

using base::Point;
using scene::Vec3;

namespace {

// Light that comes along the card would find nothing to stand in its way, so the card turns until it is off the light's way by
// this much.
constexpr double kLeastOffDeg = 35;

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

double areaOf(const Card& card) {
  return card.across[0] * card.alongZ - card.across[2] * card.alongX;
}

struct OnCard {
  double up, along;  // metres
  Point seenAt;      // scene px
};
std::optional<OnCard> onCard(const scene::FloorCamera& camera, const Card& card, const Vec3& world) {
  // world − foot = across · a + along · way, on the floor.
  const double dx = world[0] - card.foot[0], dz = world[2] - card.foot[2], area = areaOf(card);
  if (std::abs(area) < 1e-6) return std::nullopt;
  const double a = (dx * card.alongZ - dz * card.alongX) / area, way = (card.across[0] * dz - card.across[2] * dx) / area;
  const double up = world[1] + way * card.tanElevation;
  if (way < 0) return std::nullopt;
  // It is seen where the card stood, had it not turned.
  const auto seen = camera.project({card.foot[0] + a, up, card.foot[2]});
  if (!seen) return std::nullopt;
  return OnCard{up, way, *seen};
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

// Sums that are linear in x and y.
using Row = std::array<double, 3>;
Row sum(double a, const Row& p, double b, const Row& q) {
  return {a * p[0] + b * q[0], a * p[1] + b * q[1], a * p[2] + b * q[2]};
}

}  // namespace

PlaneWay::PlaneWay(const scene::FloorCamera& camera, const Card& card, double wallZ, const base::Affine& sceneToCaster) {
  // The way through a px is linear in it.
  const Vec3 d0 = camera.ray({0, 0}), dx = camera.ray({1, 0}), dy = camera.ray({0, 1});
  std::array<Row, 3> ray;
  for (std::size_t k = 0; k < 3; ++k) ray[k] = {dx[k] - d0[k], dy[k] - d0[k], d0[k]};
  // The plane's world place times depth_.
  const double h = camera.position()[1];
  Row worldX, worldY{}, worldZ;
  if (wallZ > 0) {
    depth_ = ray[2];
    worldX = sum(wallZ, ray[0], 0, ray[0]), worldY = sum(h, ray[2], wallZ, ray[1]), worldZ = sum(wallZ, ray[2], 0, ray[2]);
  } else {
    depth_ = sum(-1, ray[1], 0, ray[1]);
    worldX = sum(h, ray[0], 0, ray[0]), worldZ = sum(h, ray[2], 0, ray[2]);
  }
  const double area = areaOf(card);
  const Row x = sum(1, worldX, -card.foot[0], depth_), z = sum(1, worldZ, -card.foot[2], depth_);
  const Row across = sum(card.alongZ / area, x, -card.alongX / area, z);
  along_ = sum(card.across[0] / area, z, -card.across[2] / area, x);
  // On the card, from the camera, times depth_; and the px that this is seen at: the way through a px, turned round.
  const Row fromX = sum(card.foot[0], depth_, 1, across), fromY = sum(1, sum(1, worldY, card.tanElevation, along_), -h, depth_),
            fromZ = sum(card.foot[2], depth_, 0, depth_);
  const auto cross = [](const Vec3& a, const Vec3& b) {
    return Vec3{a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
  };
  const Vec3 right{ray[0][0], ray[1][0], ray[2][0]}, down{ray[0][1], ray[1][1], ray[2][1]};
  const auto times = [&](const Vec3& v) { return sum(1, sum(v[0], fromX, v[1], fromY), v[2], fromZ); };
  const Row u = times(cross(down, d0)), v = times(cross(d0, right));
  seen_ = times(cross(right, down));
  const base::Affine& m = sceneToCaster;
  x_ = sum(1, sum(m.a, u, m.b, v), m.e, seen_);
  y_ = sum(1, sum(m.c, u, m.d, v), m.f, seen_);
}

void PlaneWay::at(Point p, double step, Run& run) const {
  struct Linear {
    float first, by;
  };
  const auto of = [&](const Row& r) { return Linear{float(r[0] * p.x + r[1] * p.y + r[2]), float(r[0] * step)}; };
  const Linear x = of(x_), y = of(y_), seen = of(seen_), along = of(along_), depth = of(depth_);
  for (int k = 0; k < kRun; ++k) {
    const auto n = float(k);
    const float s = 1 / (seen.first + n * seen.by), a = 1 / (depth.first + n * depth.by);
    run.x[std::size_t(k)] = (x.first + n * x.by) * s;
    run.y[std::size_t(k)] = (y.first + n * y.by) * s;
    run.along[std::size_t(k)] = (along.first + n * along.by) * a;
  }
}

std::optional<ShadowWays> ShadowWays::of(const scene::Scene& scene, const scene::CastShadow& s, const Caster& caster, double px) {
  const scene::FloorCamera camera(scene::floorOf(scene), scene.canvas);
  const Point foot = caster.placesToScene().map(s.foot);
  const auto card = cardOf(camera, s.light, foot);
  if (!card) return std::nullopt;
  const auto meter = scene::heightAtFoot(camera, foot, 1);
  if (!meter || *meter < 1e-6) return std::nullopt;
  return ShadowWays(camera, *card, s, caster, foot, *meter, px);
}

ShadowWays::ShadowWays(const scene::FloorCamera& camera, const Card& card, const scene::CastShadow& s, const Caster& caster,
                       Point foot, double pxPerM, double px)
    : camera_(camera),
      card_(card),
      toLayer_(caster.toLayer()),
      density_(s.density),
      wallZ_(wallZOf(camera, s, foot)),
      floor_(camera, card, 0, toLayer_) {
  if (wallZ_ > 0) wall_ = PlaneWay(camera, card, wallZ_, toLayer_);
  const Point top = caster.headAbove(s.foot);
  heightM_ = std::hypot(top.x - foot.x, top.y - foot.y) / pxPerM;
  const double slant = 1 / std::max(0.05, std::cos(s.light.elevationDeg * M_PI / 180));
  softening_ = slant * std::tan(s.light.sizeDeg * M_PI / 360) * pxPerM / caster.scale();
  leastRadius_ = 0.5 * px / caster.scale();
  fading_ = card.tanElevation / std::max(1e-6, s.fadeHeights * heightM_);
}

ShadowWays::Met ShadowWays::at(Point scenePx) const {
  Met m;
  const auto world = worldAt(camera_, wallZ_, scenePx);
  if (!world) return m;
  const auto on = onCard(camera_, card_, *world);
  m.by = Met::By::besides;
  if (!on) return m;
  // Beyond twice its height nothing of it can be met.
  m.by = on->up > 2 * heightM_ + 1 ? Met::By::above : on->up < -0.2 * heightM_ ? Met::By::below : Met::By::besides;
  if (m.by != Met::By::besides) return m;
  m.by = wallZ_ > 0 && (*world)[2] >= wallZ_ ? Met::By::wall : Met::By::floor;
  m.layer = toLayer_.map(on->seenAt);
  m.along = on->along;
  return m;
}

double ShadowWays::share(double along) const {
  return density_ * std::exp(-along * fading_);
}

}  // namespace hseam::render
