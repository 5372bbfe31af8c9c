#include "core/matte/whole_cut.h"

#include "core/matte/edge_shape.h"
#include "core/matte/found_band.h"

namespace hseam::matte {

base::Result<WholeCut> wholeCut(const image::TiledImage& source, const image::TiledImage& selection,
                                const image::TiledImage& band, const EdgePlan& plan, image::PixelFormat alphaFormat,
                                base::Executor& executor, const base::Progress& progress) {
  WholeCut out;
  out.band = band;
  if (band.isNull()) {
    HSEAM_TRY(FoundBand found, findBandAndMisses(source, selection, {}, executor, progress.part(0, 0.3)));
    out.band = std::move(found.band), out.missed = std::move(found.missed);
  }
  HSEAM_TRY(out.cut, solveCut(source, out.band, {}, alphaFormat, executor, progress.part(band.isNull() ? 0.3 : 0.0, 0.9)));
  for (const MarkedStretch& s : plan.stretches) {
    if (!s.kind) continue;
    StretchSolveOptions options;
    options.as = *s.kind;
    options.solving.encodedShare = out.cut.encodedShare;
    HSEAM_TRY(SolvedStretch solved, solveMarked(source, out.band, out.cut, s, options, executor, progress.part(0.9, 0.95)));
    out.band = std::move(solved.band);
    out.cut = std::move(solved.cut);
  }
  if (plan.shapes()) {
    HSEAM_TRY(out.shaped, shapedAlpha(out.cut.alpha, plan, executor, progress.part(0.95, 1)));
  }
  progress.report(1);
  return out;
}

base::Result<Shaping> shaping(const image::TiledImage& alpha, const EdgePlan& plan, const image::TiledImage& before,
                              const image::TiledImage& mask, base::Executor& executor, const base::Progress& progress) {
  Shaping out;
  if (plan.shapes()) {
    HSEAM_TRY(out.shaped, shapedAlpha(alpha, plan, executor, progress));
  }
  HSEAM_TRY(out.mask, maskAfterSolving(mask, before, out.shaped.isNull() ? alpha : out.shaped, executor));
  return out;
}

base::Result<SolvedStretch> solveMarked(const image::TiledImage& source, const image::TiledImage& band, const Cut& cut,
                                        const MarkedStretch& mark, const StretchSolveOptions& options, base::Executor& executor,
                                        const base::Progress& progress) {
  HSEAM_TRY(const Unrolled outline, unrolled(cut.alpha));
  SolvedStretch out{band, cut};
  for (const PlaceRun& run : runsOn(outline, mark)) {
    HSEAM_TRY(out, solveStretch(source, out.band, out.cut.alpha, out.cut.clean, outline, run.first, run.count, options, executor,
                                progress));
  }
  return out;
}

}  // namespace hseam::matte
