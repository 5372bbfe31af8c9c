#include "core/render/lights.h"

#include <algorithm>
#include <cmath>

#include "core/render/light_parts.h"

namespace hseam::render {

using base::Point;
using base::Rect;

namespace {

// A light's direction on the picture and towards the eye: x right, y down, z to the viewer.
struct Towards {
  double x, y, z;
};
Towards towards(const scene::LightFrom& l) {
  const double a = l.azimuthDeg * M_PI / 180, e = l.elevationDeg * M_PI / 180;
  return {std::sin(a) * std::cos(e), -std::sin(e), std::cos(a) * std::cos(e)};
}

Rect layerArea(const Caster& caster, const Rect& area, int level, double grow) {
  return base::boundsOf(caster.toLayer(), area.finer(level)).grown(int(std::ceil(grow))).intersected(Rect::of(caster.size()));
}

// The slope of coverage at a width, per layer px; outwards is downhill.
Point slopeAt(const Caster& c, Point p, double width) {
  const double d = std::max(0.5, width / 2);
  return {double(c.at({p.x + d, p.y}, width) - c.at({p.x - d, p.y}, width)) / (2 * d),
          double(c.at({p.x, p.y + d}, width) - c.at({p.x, p.y - d}, width)) / (2 * d)};
}

// A direction of the layer as it lies in the scene.
Point turned(const Caster& c, Point v) {
  const base::Affine& m = c.toScene();
  return {(m.a * v.x + m.b * v.y) / c.scale(), (m.c * v.x + m.d * v.y) / c.scale()};
}

template <class F>
void eachPlacedPixel(const Rect& area, int level, const F& f) {
  const double px = 1 << level;
  for (int y = 0, i = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x, ++i) f(i, Point{(area.x + x + 0.5) * px, (area.y + y + 0.5) * px});
  }
}

void fill(Planes& out, const scene::Colour3& colour) {
  for (int c = 0; c < 3; ++c) std::fill_n(out.colour(c), out.count(), float(colour[std::size_t(c)]));
}

}  // namespace

// Falls from the line as a normal distribution of the distance, half at widthPx; distances across are seen foreshortened.
base::Result<bool> paintContactShadow(const scene::ContactShadow& s, Caster& caster, const Rect& area, int level, Planes& out) {
  if (s.line.size() < 2) return false;
  std::vector<Point> line;
  for (const Point& p : s.line) line.push_back(caster.placesToScene().map(p));
  const double k = std::log(2.0) / (s.widthPx * s.widthPx), far = 3.2 * s.widthPx, px = 1 << level;
  fill(out, s.colour);
  bool any = false;
  // What is within reach of this strip.
  std::vector<std::pair<Point, Point>> near;
  const Rect seen = area.finer(level).grown(int(far) + int(px) + 1);
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Point &a = line[i], &b = line[i + 1];
    if (std::max(a.x, b.x) >= seen.x && std::min(a.x, b.x) <= seen.right() && std::max(a.y, b.y) >= seen.y &&
        std::min(a.y, b.y) <= seen.bottom())
      near.emplace_back(a, b);
  }
  if (near.empty()) return false;
  eachPlacedPixel(area, level, [&](int i, Point p) {
    double best = INFINITY;
    for (const auto& [a, b] : near) {
      const double dx = b.x - a.x, dy = (b.y - a.y) / s.flatness, qx = p.x - a.x, qy = (p.y - a.y) / s.flatness;
      const double length = dx * dx + dy * dy, t = length > 0 ? std::clamp((qx * dx + qy * dy) / length, 0.0, 1.0) : 0;
      const double ex = qx - t * dx, ey = qy - t * dy;
      best = std::min(best, ex * ex + ey * ey);
    }
    out.alpha()[i] = best > far * far ? 0.f : float(s.density * std::exp(-k * best));
    any |= out.alpha()[i] > 0;
  });
  return any;
}

// A round form: its slope is the sum of the slopes of coverage at widths up to roundPx; light falls on it by Lambert's law. Grey
// of one half where it turns neither way, for a mode that leaves one half alone.
base::Result<bool> paintShading(const scene::Shading& s, Caster& caster, const Rect& area, int level, Planes& out) {
  const double most = std::max(2.0, s.roundPx / caster.scale()), least = std::max(1.0, (1 << level) / caster.scale());
  const Rect need = layerArea(caster, area, level, 2 * most);
  if (need.empty()) return false;
  HSEAM_DO(caster.prepare(need, least, most));
  const Towards l = towards(s.light);
  bool any = false;
  eachPlacedPixel(area, level, [&](int i, Point p) {
    const Point q = caster.toLayer().map(p);
    const float own = caster.at(q, least);
    double nx = 0, ny = 0;
    constexpr int kWidths = 5;
    for (int k = 0; k < kWidths; ++k) {
      const double width = std::ldexp(most, -k);
      if (width < least) break;
      const Point d = turned(caster, slopeAt(caster, q, width));
      nx -= d.x * width, ny -= d.y * width;
    }
    const double nz = 1, length = std::sqrt(nx * nx + ny * ny + nz * nz);
    // Against the side that faces the viewer.
    const double lambert = (nx * l.x + ny * l.y + nz * l.z) / length - l.z;
    const double v = lambert > 0 ? s.lights * lambert : s.darks * lambert;
    for (int c = 0; c < 3; ++c) out.colour(c)[i] = float(std::clamp(0.5 + 0.5 * v, 0.0, 1.0));
    out.alpha()[i] = own;
    any |= own > 0;
  });
  return any;
}

base::Result<bool> paintEdgeLight(const scene::EdgeLight& s, Caster& caster, const Rect& area, int level, Planes& out) {
  const double width = std::max(1.0, s.widthPx / caster.scale()), least = std::max(1.0, (1 << level) / caster.scale());
  const double wide = std::max(width, least);
  const Rect need = layerArea(caster, area, level, 4 * wide);
  if (need.empty()) return false;
  HSEAM_DO(caster.prepare(need, least, 2 * wide));
  const Towards l = towards(s.light);
  const double flat = std::hypot(l.x, l.y);
  bool any = false;
  eachPlacedPixel(area, level, [&](int i, Point p) {
    const Point q = caster.toLayer().map(p);
    const float own = caster.at(q, least);
    // How near the edge: the widened coverage is one half on it and whole from about its width on.
    const double depth = std::clamp(2.0 * (double(caster.disc(q, wide)) - 0.5), 0.0, 1.0);
    const double band = s.softness * (1 - depth) + (1 - s.softness) * std::clamp((0.9 - depth) / 0.2, 0.0, 1.0);
    const Point d = turned(caster, slopeAt(caster, q, wide));
    const double slope = std::hypot(d.x, d.y);
    const double facing = slope > 1e-6 && flat > 1e-6 ? -(d.x * l.x + d.y * l.y) / (slope * flat) : 0;
    const double strength = facing > 0 ? s.lit * facing : s.dark * -facing;
    const auto& colour = facing > 0 ? s.litColour : s.darkColour;
    for (int c = 0; c < 3; ++c) out.colour(c)[i] = float(colour[std::size_t(c)]);
    out.alpha()[i] = own * float(strength * band);
    any |= out.alpha()[i] > 0;
  });
  return any;
}

base::Result<bool> paintLight(const scene::Scene& scene, const scene::LightContent& light, const Rect& area, int level,
                              const ShapeOf& shapeOf, Planes& out) {
  const scene::Layer* layer = scene::findLayer(scene, light.caster);
  if (!layer || layer->hidden) return false;
  Caster caster(scene, *layer, shapeOf);
  if (!caster.ok()) return false;
  if (const auto* s = std::get_if<scene::CastShadow>(&light.kind)) return paintCastShadow(scene, *s, caster, area, level, out);
  if (const auto* s = std::get_if<scene::ContactShadow>(&light.kind)) return paintContactShadow(*s, caster, area, level, out);
  if (const auto* s = std::get_if<scene::Shading>(&light.kind)) return paintShading(*s, caster, area, level, out);
  return paintEdgeLight(std::get<scene::EdgeLight>(light.kind), caster, area, level, out);
}

}  // namespace hseam::render
