#pragma once
// Caches that are shared by strips.

#include "core/render/adjust.h"
#include "core/render/inverse_warp.h"
#include "core/render/soft_masks.h"

namespace hseam::render {

/// Any thread.
struct Tools {
  BakedAdjustments baked;
  InverseWarps inverseWarps;
  SoftMasks softMasks;
};

}  // namespace hseam::render
