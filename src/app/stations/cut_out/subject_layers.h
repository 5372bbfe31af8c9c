#pragma once

#include "app/document/lane.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// Several subjects of the active picture as layers of their own, in one go: what hangs together in its mask (without one, in
/// its selection, which is solved first) becomes a layer with the same source; the picture itself stays below, hidden.
void layerForEachPiece(Session& session, Messages& messages, Lane& jobs);

}  // namespace hseam::app
