#pragma once
// The plan's shapes applied to a solved alpha.

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/matte/edge_plan.h"

namespace hseam::matte {

/// Alpha (grey8) as the plan wants it. Every pixel within 64 px of the outline uses the shape of its nearest place: alpha is
/// resampled along the normal with a cubic kernel (Keys 1981), so strands keep their form. Shapes blend over about 16 px along
/// the outline. Without shapes, returns alpha itself. Cost: the tiles near the outline. Errors: cancelled, what reading says.
base::Result<image::TiledImage> shapedAlpha(const image::TiledImage& alpha, const EdgePlan& plan, base::Executor& executor,
                                            const base::Progress& progress);

/// The factor of width that makes a stretch as crisp as the sharpest 5 % of the edges elsewhere on the same cut; 1 if it is that
/// crisp already. Places [first, first + count). Errors: what reading says.
base::Result<double> widthAsCrispAs(const Unrolled& outline, int first, int count, const image::TiledImage& alpha);

}  // namespace hseam::matte
