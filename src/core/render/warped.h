#pragma once
// A warped and placed picture sampled on the grid of the output.

#include "core/image/tiled_image.h"
#include "core/render/inverse_warp.h"
#include "core/render/planes.h"

namespace hseam::render {

struct WarpedPicture {
  const image::TiledImage* colours = nullptr;  // null: coverage only
  const image::TiledImage* mask = nullptr;     // null: 1 everywhere; else of the colours' size
  base::Affine toOutput;                       // px of the bent picture → px of the output
  const InverseWarp* way = nullptr;
};
/// As samplePicture: straight encoded colours and alpha, resampled once in linear light weighted by alpha, by Catmull-Rom from
/// the level of detail next above the reduction at each place. False: nothing shows. Errors: what pinning says.
base::Result<bool> sampleWarped(const WarpedPicture& what, const base::Rect& area, Planes& out);

}  // namespace hseam::render
