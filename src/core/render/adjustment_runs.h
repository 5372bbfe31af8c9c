#pragma once
// Runs of consecutive adjustments that are applied together.

#include <vector>

#include "core/scene/scene.h"

namespace hseam::render {

/// Whether an adjustment's result replaces the canvas: not masked, blended or at reduced opacity.
bool replacesAll(const scene::Layer& adjustment);

/// The end of the run of layers from `from` on that replace all, pixel by pixel. A run of none ends at `from`.
std::size_t adjustmentRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until);

/// Within such a run: the end of those from `from` on that are looked up in one table, being curves of the channels.
std::size_t tableRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until);

/// Whether one table spans the border before layer `at`. One table and two give different bits, so a cached part of a scene must
/// not end there.
bool dividesTableRun(const std::vector<scene::LayerRef>& layers, std::size_t at);

}  // namespace hseam::render
