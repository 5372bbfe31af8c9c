#pragma once

#include "core/render/sample.h"

namespace hseam::render {

/// samplePicture's way for placements that do not copy: `toSource` is the inverse of what.toOutput, `level` the level of detail
/// to read. Alpha is exactly 1 where a picture without alpha covers a pixel fully.
base::Result<bool> resampled(const Sampled& what, const base::Affine& toSource, int level, const base::Rect& area, Planes& out);

}  // namespace hseam::render
