#pragma once
// Solves one stretch of a cut's edge again, as the kind of edge that the user says it is.

#include "core/matte/edge_readings.h"
#include "core/matte/solver.h"

namespace hseam::matte {

struct StretchSolveOptions {
  EdgeKind as = EdgeKind::hair;
  double reachPx = 0;  // of the band to each side of the outline; 0: 48 for hair, by the measured softness for soft, 5 for solid
  SolveOptions solving;
};

struct SolvedStretch {
  image::TiledImage band;  // grey8, labels
  Cut cut;                 // alpha grey8
};

/// Places [first, first + count) of the outline of `alpha`. Hair and soft are solved in a band of their own width; solid takes
/// the sub-pixel fit of edge_fit, no matting. At its ends the result blends with the old one over 12 px; only pixels
/// whose nearest place lies on the stretch change, within 64 px of it (or the reach and 24). band and clean may be null. Errors:
/// cancelled, invalid (nothing certain on one side), what reading says.
base::Result<SolvedStretch> solveStretch(const image::TiledImage& source, const image::TiledImage& band,
                                         const image::TiledImage& alpha, const image::TiledImage& clean, const Unrolled& outline,
                                         int first, int count, const StretchSolveOptions& options, base::Executor& executor,
                                         const base::Progress& progress);

}  // namespace hseam::matte
