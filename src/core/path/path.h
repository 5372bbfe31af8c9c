#pragma once
// Outlines of cubic Bézier curves, drawn by hand or fitted. A path is a value; every operation gives a new one.

#include <optional>
#include <string>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::path {

/// A point of an outline with the ends of its two handles, px of the picture (edges at integers). A handle that lies on its
/// point is none: the curve leaves straight.
struct Node {
  base::Point at;
  base::Point in, out;
  bool smooth = false;  // the handles are kept on one line
  friend bool operator==(const Node&, const Node&) = default;
};
inline Node corner(base::Point at) {
  return {at, at, at, false};
}

/// How an outline combines with those before it.
enum class Joins : std::uint8_t { add, takeAway, overlap };

/// One outline. Open ones are being drawn still: they cover nothing.
struct Outline {
  std::vector<Node> nodes;
  bool closed = false;
  Joins joins = Joins::add;
  friend bool operator==(const Outline&, const Outline&) = default;
};

struct Path {
  std::vector<Outline> outlines;
  bool empty() const { return outlines.empty(); }
  friend bool operator==(const Path&, const Path&) = default;
};

/// One cubic: p0 and p3 on the curve, p1 and p2 handles.
struct Cubic {
  base::Point p0, p1, p2, p3;
};
base::Point pointAt(const Cubic& c, double t);
/// First derivative, px for t from 0 to 1.
base::Point slopeAt(const Cubic& c, double t);
/// de Casteljau: both together are the same curve.
std::pair<Cubic, Cubic> split(const Cubic& c, double t);

/// Segment i goes from node i to the next; a closed outline has as many as nodes, an open one less by one.
int segmentCount(const Outline& outline);
Cubic segment(const Outline& outline, int i);

/// A chord polygon that leaves the curve by less than `tolerancePx` (by the bound on second differences; Wang 1984).
std::vector<base::Point> flattened(const Outline& outline, double tolerancePx);

/// The px that hold the outlines, open ones too, to the pixel; empty for an empty path.
base::Rect boundsOf(const Path& path);

/// A place on a path.
struct Place {
  int outline = 0, segment = 0;
  double t = 0;         // 0..1 along the segment
  double distance = 0;  // px from the point that was asked for
};
/// The nearest place on any outline; empty without segments.
std::optional<Place> nearest(const Path& path, base::Point to);

/// Checks the limits: finite numbers below 1e6 px, at most 100 000 nodes. Returns a sentence if one is broken.
std::optional<std::string> fault(const Path& path);

}  // namespace hseam::path
