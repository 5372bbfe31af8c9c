#pragma once

#include "app/document/lane.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// What the scene shows up to the active layer becomes a picture over it; the layers stay as they are.
void mergedSoFar(Session& session, Messages& messages, Lane& jobs);

}  // namespace hseam::app
