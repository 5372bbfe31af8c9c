#pragma once

#include "core/image/tiled_image.h"

namespace hseam::matte {

struct StrandDirection {
  double angle = 0;      // radians, clockwise from the x axis (y points down), −π/2..π/2: strands have no front
  double coherence = 0;  // 0..1: 0 where no direction prevails
};

/// How strands lie round a place of a picture: the direction along which its tones change least (structure tensor, Förstner &
/// Gülch 1987), Gaussian window of sigmaPx. Errors: what reading says.
base::Result<StrandDirection> strandDirection(const image::TiledImage& picture, base::Point at, double sigmaPx);

}  // namespace hseam::matte
