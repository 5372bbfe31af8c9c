#pragma once
// Places a picture so that marked places of it lie on marked places of the scene.

#include <array>
#include <vector>

#include "core/base/geometry.h"
#include "core/scene/edit.h"

namespace hseam::scene {

/// From where to where, scene px.
struct Mark {
  base::Point from, to;
};

/// One mark moves the picture; two move, turn and scale it (the similarity that takes the one pair to the other); four bend it as
/// a flat thing seen from another side (the homography). Exact in all three. Errors: notFound, invalid (another number of marks,
/// places that coincide or lie in a line).
base::Result<Edit> matchedTo(const Scene& scene, LayerId picture, const std::vector<Mark>& marks);

/// Which of their sides or middles come to lie on one line.
enum class Side { left, middle, right, top, centre, bottom };
/// Picture layers moved so that their sides lie where the first one's does; their whole pictures count. Errors: invalid (fewer
/// than two).
base::Result<Edit> aligned(const Scene& scene, const std::vector<LayerId>& layers, Side side);
/// Middles at equal distances between the outermost two, across or down. Errors: invalid (fewer than three).
base::Result<Edit> distributed(const Scene& scene, const std::vector<LayerId>& layers, bool across);

}  // namespace hseam::scene
