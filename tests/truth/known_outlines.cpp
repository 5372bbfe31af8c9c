#include "truth/known_outlines.h"

#include <cmath>

namespace hseam::truth {
namespace {

using path::Node;

constexpr base::Point kMiddle{300, 250};
constexpr double kQuarter = 0.5522847498;  // handle of a quarter circle, of the radius

KnownOutline ellipse(const std::string& name, double rx, double ry) {
  KnownOutline k{name, {}, 4};
  for (int i = 0; i < 4; ++i) {
    const double c = std::cos(i * M_PI / 2), s = std::sin(i * M_PI / 2);
    const base::Point at{kMiddle.x + rx * c, kMiddle.y + ry * s};
    const double hx = -s * rx * kQuarter, hy = c * ry * kQuarter;
    k.outline.nodes.push_back({at, {at.x - hx, at.y - hy}, {at.x + hx, at.y + hy}, true});
  }
  return k;
}

KnownOutline polygon(const std::string& name, int corners, double radius, double inner, double turn) {
  KnownOutline k{name, {}, 0};
  const int count = inner > 0 ? 2 * corners : corners;
  for (int i = 0; i < count; ++i) {
    const double t = turn + 2 * M_PI * i / count, r = inner > 0 && i % 2 ? inner : radius;
    k.outline.nodes.push_back(path::corner({kMiddle.x + r * std::cos(t), kMiddle.y + r * std::sin(t)}));
  }
  k.fewest = count;
  return k;
}

KnownOutline roundedBox(const std::string& name, double w, double h, double r) {
  KnownOutline k{name, {}, 8};
  const double l = kMiddle.x - w / 2, t = kMiddle.y - h / 2, R = l + w, b = t + h, q = r * (1 - kQuarter);
  const auto add = [&](base::Point at, base::Point in, base::Point out) { k.outline.nodes.push_back({at, in, out, true}); };
  add({l + r, t}, {l + q, t}, {l + r, t});
  add({R - r, t}, {R - r, t}, {R - q, t});
  add({R, t + r}, {R, t + q}, {R, t + r});
  add({R, b - r}, {R, b - r}, {R, b - q});
  add({R - r, b}, {R - q, b}, {R - r, b});
  add({l + r, b}, {l + r, b}, {l + q, b});
  add({l, b - r}, {l, b - q}, {l, b - r});
  add({l, t + r}, {l, t + r}, {l, t + q});
  return k;
}

// Smooth nodes round the middle; radii and handles vary, the same for the same seed.
KnownOutline freehand(int nodes, unsigned seed) {
  KnownOutline k{"freehand, " + std::to_string(nodes) + " nodes", {}, nodes};
  unsigned state = seed * 2654435761u + 1;
  const auto dice = [&] {
    state = state * 1664525u + 1013904223u;
    return double(state >> 8) / double(1u << 24);
  };
  for (int i = 0; i < nodes; ++i) {
    const double t = 2 * M_PI * i / nodes, r = 130 + 90 * dice(), lean = 0.5 * (dice() - 0.5);
    const base::Point at{kMiddle.x + r * std::cos(t), kMiddle.y + r * std::sin(t)};
    const double reach = 2 * M_PI * r / nodes / 3 * (0.8 + 0.4 * dice()), dx = -std::sin(t + lean), dy = std::cos(t + lean);
    k.outline.nodes.push_back({at, {at.x - reach * dx, at.y - reach * dy}, {at.x + reach * dx, at.y + reach * dy}, true});
  }
  return k;
}

// Two corners joined by two bows.
KnownOutline leaf(const std::string& name, double length, double bow, double bend) {
  KnownOutline k{name, {}, 2};
  const base::Point a{kMiddle.x - length / 2, kMiddle.y}, b{kMiddle.x + length / 2, kMiddle.y};
  const double third = length / 3;
  k.outline.nodes.push_back({a, {a.x + third, a.y + bow + bend}, {a.x + third, a.y - bow + bend}, false});
  k.outline.nodes.push_back({b, {b.x - third, b.y - bow - bend}, {b.x - third, b.y + bow - bend}, false});
  return k;
}

}  // namespace

std::vector<KnownOutline> knownOutlines() {
  std::vector<KnownOutline> all = {ellipse("circle", 200, 200),
                                   ellipse("ellipse", 240, 130),
                                   ellipse("thin ellipse", 250, 40),
                                   ellipse("small circle", 24, 24),
                                   polygon("triangle", 3, 200, 0, 0.2),
                                   polygon("square, turned", 4, 200, 0, 0.3),
                                   polygon("hexagon", 6, 200, 0, 0.1),
                                   polygon("star", 5, 220, 90, -0.3),
                                   polygon("cogs", 12, 220, 185, 0),
                                   roundedBox("rounded box", 420, 300, 60),
                                   roundedBox("box, just rounded", 420, 300, 12),
                                   roundedBox("pill", 460, 160, 79.9),
                                   leaf("leaf", 460, 150, 0),
                                   leaf("bent leaf", 460, 130, 90),
                                   leaf("blade", 500, 30, 60)};
  for (const int nodes : {5, 7, 9, 11, 14}) all.push_back(freehand(nodes, unsigned(nodes)));
  for (KnownOutline& k : all) k.outline.closed = true;
  return all;
}

}  // namespace hseam::truth
