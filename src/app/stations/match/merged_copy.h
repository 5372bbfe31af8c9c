#pragma once

#include "app/document/desk.h"

namespace hseam::app {

/// What the scene shows up to the active layer becomes a picture over it; the layers stay as they are.
void mergedSoFar(Desk& desk);

}  // namespace hseam::app
