#pragma once
// A placed picture sampled on the grid of the output: its colours and its coverage.

#include "core/image/tiled_image.h"
#include "core/render/planes.h"

namespace hseam::render {

struct Sampled {
  const image::TiledImage* colours = nullptr;  // null: coverage only
  const image::TiledImage* mask = nullptr;     // null: 1 everywhere; else of the colours' size
  base::Affine toOutput;                       // px of the picture (level 0) → px of the output
};

/// Fills the planes (area.width · area.height values, rows in order) with straight encoded colours, and alpha = own alpha ×
/// mask, 0 outside the picture; where alpha is 0 colours are unspecified but finite. A whole-pixel move copies; anything
/// else is resampled in linear light weighted by alpha: Catmull-Rom (Keys 1981), widened for reduction, from the level of
/// detail next above the reduction; the picture's border is area-exact for axis-parallel placements. A pixel's value does not
/// depend on `area`. False: nothing of it shows in the area, and the planes are unspecified. Errors: what pinning says.
base::Result<bool> samplePicture(const Sampled& what, const base::Rect& area, Planes& out);

/// Coverage only, into `out` (area.width · area.height floats).
base::Status sampleCoverage(const image::TiledImage& mask, const base::Affine& toOutput, const base::Rect& area, float* out);

}  // namespace hseam::render
