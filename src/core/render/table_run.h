#pragma once
// Adjustments that follow each other and act as one table.

#include <vector>

#include "core/scene/scene.h"

namespace hseam::render {

/// What such an adjustment makes of the canvas is the canvas from then on: it is not masked, blended or weakened.
bool replacesAll(const scene::Layer& adjustment);

/// The end of the run of layers from `from` on that are looked up in one table: curves of the channels that replace all, one
/// after another. A run of one layer, or of none, ends at from + 1.
std::size_t tableRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until);

/// Such a run goes across the border before layer `at`. One table does not give the bits that two give, so that what is kept of
/// a scene must not end within it.
bool dividesTableRun(const std::vector<scene::LayerRef>& layers, std::size_t at);

}  // namespace hseam::render
