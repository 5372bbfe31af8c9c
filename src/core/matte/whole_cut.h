#pragma once
// The steps from a rough selection to a finished cut, for the window and the command.

#include "core/matte/edge_plan.h"
#include "core/matte/stretch_solve.h"

namespace hseam::matte {

struct WholeCut {
  image::TiledImage band;
  Cut cut;
  image::TiledImage shaped;             // null: the plan shapes nothing
  std::vector<base::Rect> missed = {};  // by a band that was found: see FoundBand
  const image::TiledImage& outcome() const { return shaped.isNull() ? cut.alpha : shaped; }
};

/// An alpha shaped by a plan (null: unchanged), and the mask, with what was painted over the earlier one.
struct Shaping {
  image::TiledImage shaped, mask;
};
/// mask and before (the earlier outcome) may be null. All grey8. Errors: those of shapedAlpha, what reading says.
base::Result<Shaping> shaping(const image::TiledImage& alpha, const EdgePlan& plan, const image::TiledImage& before,
                              const image::TiledImage& mask, base::Executor& executor, const base::Progress& progress);

/// band null: it is found. Stretches for which the plan sets a kind are solved last. A plan that does so wants
/// alphaFormat grey8. Errors: those of findBand, solveCut, solveStretch, shapedAlpha.
base::Result<WholeCut> wholeCut(const image::TiledImage& source, const image::TiledImage& selection,
                                const image::TiledImage& band, const EdgePlan& plan, image::PixelFormat alphaFormat,
                                base::Executor& executor, const base::Progress& progress);

/// One marked stretch of a finished cut solved as `options.as`; where the outline does not pass the marks, nothing changes.
base::Result<SolvedStretch> solveMarked(const image::TiledImage& source, const image::TiledImage& band, const Cut& cut,
                                        const MarkedStretch& mark, const StretchSolveOptions& options, base::Executor& executor,
                                        const base::Progress& progress);

}  // namespace hseam::matte
