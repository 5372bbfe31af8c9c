#pragma once

#include <QString>
#include <vector>

#include "app/canvas/view.h"

namespace hseam::app {

/// What the eyes of a view are called, in their order.
struct WayOfSeeing {
  Eyes eyes;
  QString name, tip;
};
std::vector<WayOfSeeing> waysOfSeeing();

}  // namespace hseam::app
