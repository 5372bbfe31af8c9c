#pragma once
// Outlines that were made of a known number of nodes: what a fit to their pixels is held against.

#include <string>
#include <vector>

#include "core/path/path.h"

namespace hseam::truth {

struct KnownOutline {
  std::string name;
  path::Outline outline;  // px, within 600 × 500
  int fewest = 0;         // nodes that it was made of
};

/// Twenty: circle, ellipses, polygons, rounded ones, letters' curves, leaves and freehand forms of 5 to 14 smooth nodes.
std::vector<KnownOutline> knownOutlines();

}  // namespace hseam::truth
