#pragma once
// Adjustments that follow each other and are applied together.

#include <vector>

#include "core/scene/scene.h"

namespace hseam::render {

/// What such an adjustment makes of the canvas is the canvas from then on: it is not masked, blended or weakened.
bool replacesAll(const scene::Layer& adjustment);

/// The end of the run of layers from `from` on that replace all, pixel by pixel. A run of none ends at `from`.
std::size_t adjustmentRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until);

/// Within such a run: the end of those from `from` on that are looked up in one table, being curves of the channels.
std::size_t tableRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until);

/// One table goes across the border before layer `at`. It does not give the bits that two give, so that what is kept of a scene
/// must not end there.
bool dividesTableRun(const std::vector<scene::LayerRef>& layers, std::size_t at);

}  // namespace hseam::render
