#pragma once

#include "core/scene/adjustment.h"

namespace hseam::scene {

struct ContentKind;

struct AdjustmentContent {
  static const ContentKind kKind;
  Adjustment adjustment;
};

}  // namespace hseam::scene
