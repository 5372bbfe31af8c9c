#pragma once
// Manual edits of an outline. Each returns a new outline; indices are nodes or segments of the given one.

#include <span>

#include "core/path/path.h"

namespace hseam::path {

/// A node in the middle of a segment; the curve stays as it is. The new node is segment + 1.
Outline withNodeAt(const Outline& outline, int segment, double t);

/// corner: the handles go their own ways from now on, nothing moves. smooth: both handles on one line, the one that halves the
/// angle between them; where there is no handle it comes out along the neighbours, a third of the way.
Outline asCorner(const Outline& outline, int node);
Outline asSmooth(const Outline& outline, int node);

/// The whole path under an affine map.
Path mapped(const Path& path, const base::Affine& map);

/// The nodes move with their handles.
Outline moved(const Outline& outline, std::span<const int> nodes, base::Point by);
/// Scaled and turned about `centre` (nodes with their handles).
Outline transformed(const Outline& outline, std::span<const int> nodes, const base::Affine& map);

enum class Handle : std::uint8_t { in, out };
/// The handle's end goes to `to`. Of a smooth node the other one turns with it and keeps its length.
Outline withHandle(const Outline& outline, int node, Handle which, base::Point to);

/// The curve itself is pulled: its point at t moves by `by`, the ends stay (least change of the two handles).
Outline pulled(const Outline& outline, int segment, double t, base::Point by);

/// A smooth curve through the nodes: every handle is made anew (Catmull-Rom, centripetal; Yuksel, Schaefer, Keyser 2011).
Outline throughPoints(const Outline& outline);

/// An open half, mirrored about the line through its two ends and closed: one symmetric outline.
Outline mirroredAndClosed(const Outline& half);

/// Two open outlines as one, joined where their ends are nearest to each other.
Outline joinedEnds(const Outline& a, const Outline& b);

/// Nodes, and how evenly it bends: share of the turning that is not needed for going round once (0: convex, as round as can
/// be; 1: as much wiggling as turning).
struct Reading {
  int nodes = 0;
  double wiggle = 0;
};
Reading readingOf(const Outline& outline);

}  // namespace hseam::path
