#include "app/stations/cut_work.h"

#include <cmath>

#include "core/matte/band.h"
#include "core/matte/found_band.h"
#include "core/matte/pockets.h"
#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "core/select/subject_guess.h"

namespace hseam::app {
namespace {

constexpr double kPocketReach = 4;  // band widths behind the edge

const scene::PictureContent* pictureOf(Desk& desk) {
  const scene::Layer* l = desk.active();
  if (l && l->picture()) return l->picture();
  emit desk.said(QObject::tr("Choose a picture in the sheet first"));
  return nullptr;
}

// The active picture, if something of it is selected.
const scene::PictureContent* selectedOf(Desk& desk) {
  const auto* p = pictureOf(desk);
  if (!p || !p->cutout.selection.isNull()) return p;
  emit desk.said(QObject::tr("Nothing is selected yet: guess the subject or draw round it"));
  return nullptr;
}

void guess(Desk& desk, select::GuessOptions options, const char* how) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  const scene::LayerId id = desk.document().active();
  desk.jobs().start<image::TiledImage>(
      QObject::tr("Guess the subject"),
      [source = p->source, options = std::move(options)](base::Executor& e, const base::Progress& progress) {
        return select::guessSubject(source, options, e, progress);
      },
      [&desk, id, how](image::TiledImage selection) {
        desk.apply(scene::SetSelection{id, std::move(selection), how});
      });
}

// A band along the selection, opened as well where paper shows between strands.
base::Result<image::TiledImage> bandAlong(const scene::Cutout& cutout, const image::TiledImage& source, double widthPx,
                                          base::Executor& e, const base::Progress& progress) {
  HSEAM_TRY(const image::TiledImage band, matte::makeBand(cutout.selection, widthPx, e, progress.part(0, 0.5)));
  return matte::openPockets(band, source, kPocketReach * widthPx, e, progress.part(0.5, 1));
}

base::Result<image::TiledImage> foundBand(const scene::Cutout& cutout, const image::TiledImage& source, base::Executor& e,
                                          const base::Progress& progress) {
  return matte::findBand(source, cutout.selection, {}, e, progress);
}
constexpr const char* kFoundRecipe = "{\"version\":1,\"band\":\"found\"}";

using BandMaker = std::function<base::Result<image::TiledImage>(const scene::Cutout&, const image::TiledImage&, base::Executor&,
                                                                const base::Progress&)>;
void makeBand(Desk& desk, const QString& name, const std::string& recipe, const BandMaker& maker,
              const std::function<void()>& done) {
  const auto* p = selectedOf(desk);
  if (!p) return;
  const scene::LayerId id = desk.document().active();
  desk.jobs().start<image::TiledImage>(
      name,
      [cutout = p->cutout, source = p->source, maker](base::Executor& e, const base::Progress& progress) {
        return maker(cutout, source, e, progress);
      },
      [&desk, id, recipe, done](image::TiledImage band) {
        desk.apply(scene::SetBand{id, std::move(band), recipe});
        done();
      });
}

std::string recipeText(double widthPx) {
  return "{\"version\":1,\"band_width_px\":" + std::to_string(int(std::lround(widthPx))) + "}";
}

struct Solved {
  image::TiledImage band;
  matte::Cut cut;
  image::TiledImage mask;
};

}  // namespace

void guessSubject(Desk& desk, bool withHints) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  select::GuessOptions options;
  if (withHints && !p->cutout.hints.isNull()) {
    options.hints = p->cutout.hints;
    options.previous = p->cutout.selection;
  }
  guess(desk, std::move(options), "guessed");
}

void guessInBox(Desk& desk, const QRectF& box) {
  select::GuessOptions options;
  const QRect r = box.toAlignedRect();
  options.box = base::Rect{r.x(), r.y(), r.width(), r.height()};
  guess(desk, std::move(options), "guessed in a box");
}

image::TiledImage selectionOrEmpty(Desk& desk) {
  const auto* p = desk.active()->picture();
  return p->cutout.selection.isNull() ? image::uniformCoverage(p->source.size(), 0, desk.memory()) : p->cutout.selection;
}

void reshapeSelection(Desk& desk, const Reshape& reshape, const QString& how) {
  const auto* p = selectedOf(desk);
  if (!p) return;
  const scene::LayerId id = desk.document().active();
  desk.jobs().start<image::TiledImage>(
      QObject::tr("Reshape the selection"),
      [selection = p->cutout.selection, reshape](base::Executor& e, const base::Progress&) { return reshape(selection, e); },
      [&desk, id, how](image::TiledImage selection) {
        desk.apply(scene::SetSelection{id, std::move(selection), how.toStdString()});
      });
}

void layBand(Desk& desk, double widthPx, const std::function<void()>& done) {
  makeBand(
      desk, QObject::tr("Lay the band"), recipeText(widthPx),
      [widthPx](const scene::Cutout& cutout, const image::TiledImage& source, base::Executor& e, const base::Progress& progress) {
        return bandAlong(cutout, source, widthPx, e, progress);
      },
      done);
}

void findBand(Desk& desk, const std::function<void()>& done) {
  makeBand(desk, QObject::tr("Find the band"), kFoundRecipe, foundBand, done);
}

void solveEdge(Desk& desk, const std::function<void()>& done) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  if (p->cutout.band.isNull() && p->cutout.selection.isNull()) {
    emit desk.said(QObject::tr("Nothing is selected yet: guess the subject or draw round it"));
    return;
  }
  const scene::LayerId id = desk.document().active();
  const scene::Cutout before = p->cutout;
  const image::TiledImage mask = desk.active()->mask.byHand();
  const std::string recipe = before.recipe.empty() ? kFoundRecipe : before.recipe;
  desk.jobs().start<Solved>(
      QObject::tr("Solve the edge"),
      [before, mask, source = p->source](base::Executor& e, const base::Progress& progress) -> base::Result<Solved> {
        Solved s;
        s.band = before.band;
        if (s.band.isNull()) {
          HSEAM_TRY(s.band, foundBand(before, source, e, progress.part(0, 0.3)));
        }
        HSEAM_TRY(s.cut, matte::solveCut(source, s.band, {}, image::PixelFormat::grey8, e,
                                         progress.part(before.band.isNull() ? 0.3 : 0.0, 0.97)));
        HSEAM_TRY(s.mask, matte::maskAfterSolving(mask, before.alpha, s.cut.alpha, e));
        return s;
      },
      [&desk, id, recipe, done, mask, oldAlpha = before.alpha, hadBand = !before.band.isNull()](Solved s) {
        // What was painted while the solver worked stays as well.
        const scene::Layer* now = scene::findLayer(desk.scene(), id);
        if (now && now->mask.byHand().stamp() != mask.stamp()) {
          const image::TiledImage atStart = mask.isNull() ? image::uniformCoverage(s.cut.alpha.size(), 255, desk.memory()) : mask;
          if (auto kept = matte::maskAfterSolving(now->mask.byHand(), oldAlpha.isNull() ? atStart : oldAlpha, s.cut.alpha,
                                                  desk.executor());
              kept.ok())
            s.mask = *kept;
        }
        if (!hadBand) desk.apply(scene::SetBand{id, s.band, recipe});
        desk.apply(scene::SetCut{id, s.cut.alpha, s.cut.clean, s.mask, recipe});
        done();
      });
}

base::Result<image::TiledImage> thinnedBand(const image::TiledImage& painted, const image::TiledImage& selection,
                                            const base::Rect& changed, base::Executor& executor) {
  const base::Rect area = changed.intersected(base::Rect::of(painted.size()));
  HSEAM_TRY(auto band, image::read8(painted, 0, area));
  HSEAM_TRY(const auto sure, image::read8(selection, 0, area));
  for (std::size_t i = 0; i < band.samples().size(); ++i) {
    if (band.samples()[i] == kThinned) band.samples()[i] = sure.samples()[i] >= 128 ? matte::kSubject : matte::kBackground;
  }
  return image::withPixels(painted, area, band, executor);
}

}  // namespace hseam::app
