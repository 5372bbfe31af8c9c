#pragma once

#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// Share (0..1) of smooth gradients that show steps: squares of 16 px that slope by one to six levels of 8 bits and have no grain
/// at all. Can't tell: fewer than 20 sloping squares.
Reading bandingOf(const Part& part);

}  // namespace hseam::measure
