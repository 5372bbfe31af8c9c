#pragma once
// Detects that a scene changed while long work was running.

#include "core/scene/edit.h"

namespace hseam::scene {

/// Whether something that `edit` replaces has changed between `from`, the scene it was computed from, and `now`, so that applying
/// it would undo that change. Only what is replaced counts: a layer may have been renamed or moved. Returns the layer's current
/// name ("" for the canvas), or empty if the edit may be applied. A removed layer counts as changed.
std::optional<std::string> changedMeanwhile(const Scene& from, const Scene& now, const Edit& edit);

}  // namespace hseam::scene
