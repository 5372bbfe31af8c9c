#pragma once
// The neighbourhood of a scene's adjustments, by which an area must be enlarged to render it correctly.

#include "core/scene/scene.h"

namespace hseam::scene {

/// Scene px within which a change of these layers, or of what lies below them, can change what they show. 0: pixel by pixel.
double lookAroundPx(const std::vector<LayerRef>& layers);
/// How many layers from the back there are up to the last that looks further than its pixel, with those confined to it; 0: none.
std::size_t layersLookingAround(const std::vector<LayerRef>& layers);
/// True if any visible adjustment, at any depth, looks around or knows where a pixel lies.
bool looksAround(const std::vector<LayerRef>& layers);
/// How far the blurs confined to layer `base` spread its coverage, scene px.
double confinedSpreadPx(const std::vector<LayerRef>& layers, std::size_t base);

}  // namespace hseam::scene
