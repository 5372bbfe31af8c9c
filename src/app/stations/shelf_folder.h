#pragma once

#include "core/store/shelf.h"

namespace hseam::app {

/// The shelf of whoever works here, in the folder for the program's data.
store::Shelf ownShelf();

}  // namespace hseam::app
