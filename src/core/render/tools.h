#pragma once
// What costs more to make than to use, kept from one strip to the next.

#include "core/render/adjust.h"
#include "core/render/inverse_warp.h"
#include "core/render/soft_masks.h"

namespace hseam::render {

/// Any thread.
struct Tools {
  BakedAdjustments baked;
  WaysBack waysBack;
  SoftMasks softMasks;
};

}  // namespace hseam::render
