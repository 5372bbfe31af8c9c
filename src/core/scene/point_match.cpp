#include "core/scene/point_match.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace hseam::scene {
namespace {

using base::Code;
using base::Error;
using base::Point;

Error wrongPairs(const char* what) {
  return {Code::invalid, "", what};
}

Placement moved(Placement p, Point by) {
  p.x += by.x;
  p.y += by.y;
  return p;
}

// Upright bounds of the whole picture, scene px, not rounded.
struct Bounds {
  double left = 1e18, top = 1e18, right = -1e18, bottom = -1e18;
};
Bounds boundsOf(const PictureContent& p) {
  const base::Size s = p.source.size();
  const base::Affine m = p.placement.toScene(s);
  Bounds b;
  for (const Point& c :
       {Point{0, 0}, Point{double(s.width), 0}, Point{0, double(s.height)}, Point{double(s.width), double(s.height)}}) {
    const Point q = m.map(c);
    b.left = std::min(b.left, q.x), b.right = std::max(b.right, q.x);
    b.top = std::min(b.top, q.y), b.bottom = std::max(b.bottom, q.y);
  }
  return b;
}
double placeOf(const Bounds& b, Side side) {
  switch (side) {
    case Side::left:
      return b.left;
    case Side::middle:
      return (b.left + b.right) / 2;
    case Side::right:
      return b.right;
    case Side::top:
      return b.top;
    case Side::centre:
      return (b.top + b.bottom) / 2;
    case Side::bottom:
      return b.bottom;
  }
  return 0;
}

struct Held {
  LayerId id;
  const PictureContent* picture;
};
std::vector<Held> picturesOf(const Scene& s, const std::vector<LayerId>& layers) {
  std::vector<Held> out;
  for (const LayerId id : layers) {
    const Layer* l = findLayer(s, id);
    if (l && l->picture()) out.push_back({id, l->picture()});
  }
  return out;
}

base::Result<Edit> bySimilarity(const Layer& l, const Mark& a, const Mark& b) {
  const auto& p = *l.picture();
  const base::Size size = p.source.size();
  using C = std::complex<double>;
  const auto at = [](Point q) { return C(q.x, q.y); };
  const C before = at(b.from) - at(a.from);
  if (std::abs(before) < 1e-6 || std::abs(at(b.to) - at(a.to)) < 1e-6) return wrongPairs("the two marks lie on one place");
  const C k = (at(b.to) - at(a.to)) / before;
  Placement now = p.placement;
  const C centre(now.x + now.scale * size.width / 2, now.y + now.scale * size.height / 2),
      to = at(a.to) + k * (centre - at(a.from));
  now.scale *= std::abs(k);
  now.rotationDeg = std::remainder(now.rotationDeg + std::arg(k) * 180 / M_PI, 360);
  now.x = to.real() - now.scale * size.width / 2;
  now.y = to.imag() - now.scale * size.height / 2;
  return Edit(SetPlacement{l.id, now});
}

base::Result<Edit> byHomography(const Layer& l, const std::vector<Mark>& marks) {
  const auto& p = *l.picture();
  const base::Size size = p.source.size();
  const auto back = p.placement.toScene(size).inverse();
  if (!back) return wrongPairs("its placement flattens it");
  // Corners come last in a bend: those that are there already are taken along.
  std::array<Point, 4> from, to;
  for (std::size_t i = 0; i < 4; ++i) from[i] = back->map(marks[i].from), to[i] = back->map(marks[i].to);
  const auto h = homography(from, to);
  if (!h) return wrongPairs("three of the marks lie in a line");
  Warp warp = p.warp ? *p.warp : Warp{};
  if (warp.corners.empty())
    warp.corners = {{0, 0}, {double(size.width), 0}, {double(size.width), double(size.height)}, {0, double(size.height)}};
  for (Point& c : warp.corners) c = mapped(*h, c);
  return Edit(SetWarp{l.id, std::make_shared<const Warp>(std::move(warp))});
}

}  // namespace

base::Result<Edit> matchedTo(const Scene& scene, LayerId id, const std::vector<Mark>& marks) {
  const Layer* l = findLayer(scene, id);
  if (!l || !l->picture()) return Error{Code::notFound, "", "only a picture is matched to marks"};
  if (marks.size() == 1) {
    const Point by{marks[0].to.x - marks[0].from.x, marks[0].to.y - marks[0].from.y};
    return Edit(SetPlacement{id, moved(l->picture()->placement, by)});
  }
  if (marks.size() == 2) return bySimilarity(*l, marks[0], marks[1]);
  if (marks.size() == 4) return byHomography(*l, marks);
  return wrongPairs("one, two or four marks are needed");
}

base::Result<Edit> aligned(const Scene& scene, const std::vector<LayerId>& layers, Side side) {
  const auto held = picturesOf(scene, layers);
  if (held.size() < 2) return wrongPairs("take at least two pictures in hand (Ctrl and a click in the sheet)");
  const double to = placeOf(boundsOf(*held[0].picture), side);
  const bool across = side == Side::left || side == Side::middle || side == Side::right;
  Several all{"align " + std::to_string(held.size()) + " pictures", {}};
  for (std::size_t i = 1; i < held.size(); ++i) {
    const double by = to - placeOf(boundsOf(*held[i].picture), side);
    all.edits.push_back({SetPlacement{held[i].id, moved(held[i].picture->placement, across ? Point{by, 0} : Point{0, by})}});
  }
  return Edit(std::move(all));
}

base::Result<Edit> distributed(const Scene& scene, const std::vector<LayerId>& layers, bool across) {
  auto held = picturesOf(scene, layers);
  if (held.size() < 3) return wrongPairs("take at least three pictures in hand (Ctrl and a click in the sheet)");
  const Side side = across ? Side::middle : Side::centre;
  const auto middle = [&](const Held& h) { return placeOf(boundsOf(*h.picture), side); };
  std::sort(held.begin(), held.end(), [&](const Held& a, const Held& b) { return middle(a) < middle(b); });
  const double first = middle(held.front()), step = (middle(held.back()) - first) / double(held.size() - 1);
  Several all{"distribute " + std::to_string(held.size()) + " pictures", {}};
  for (std::size_t i = 1; i + 1 < held.size(); ++i) {
    const double by = first + step * double(i) - middle(held[i]);
    all.edits.push_back({SetPlacement{held[i].id, moved(held[i].picture->placement, across ? Point{by, 0} : Point{0, by})}});
  }
  return Edit(std::move(all));
}

}  // namespace hseam::scene
