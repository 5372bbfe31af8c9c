#pragma once

#include "app/stations/page.h"

namespace hseam::app {

/// Layers that act together on a canvas of their own.
class Grouping : public Page {
  Q_OBJECT

 public:
  explicit Grouping(Desk& desk);
};

}  // namespace hseam::app
