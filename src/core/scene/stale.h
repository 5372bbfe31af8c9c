#pragma once
// What long work found out may be about a scene that has gone on meanwhile.

#include "core/scene/edit.h"

namespace hseam::scene {

/// The layer of which something that `edit` replaces has changed between `from`, the scene it was worked out of, and `now`:
/// applying it would undo what was done since. Of pictures and masks it asks for what is replaced alone: a layer may have been
/// renamed or moved meanwhile. The layer's name as it is now; empty: the canvas. Nothing: it may be applied. A layer that is gone
/// counts as changed.
std::optional<std::string> changedMeanwhile(const Scene& from, const Scene& now, const Edit& edit);

}  // namespace hseam::scene
