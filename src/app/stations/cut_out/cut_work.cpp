#include "app/stations/cut_out/cut_work.h"

#include <cmath>

#include "core/matte/band.h"
#include "core/matte/cut_recipe.h"
#include "core/matte/found_band.h"
#include "core/matte/pockets.h"
#include "core/matte/quick_look.h"
#include "core/matte/trimap.h"
#include "core/scene/stale.h"
#include "core/select/subject_guess.h"

namespace hseam::app {
namespace {

constexpr double kPocketReach = 4;  // band widths behind the edge

const scene::PictureContent* pictureOf(Desk& desk) {
  const scene::Layer* l = desk.session.activeLayer();
  if (l && l->picture()) return l->picture();
  emit desk.messages.said(QObject::tr("Choose a picture in the sheet first"));
  return nullptr;
}

// The active picture, if something of it is selected.
const scene::PictureContent* selectedOf(Desk& desk) {
  const auto* p = pictureOf(desk);
  if (!p || !p->cutout->selection.isNull()) return p;
  emit desk.messages.said(QObject::tr("Nothing is selected yet: guess the subject or draw round it"));
  return nullptr;
}

// A band along the selection, opened as well where paper shows between strands.
base::Result<image::TiledImage> bandAlong(const scene::Cutout& cutout, const image::TiledImage& source, double widthPx,
                                          base::Executor& e, const base::Progress& progress) {
  HSEAM_TRY(const image::TiledImage band, matte::makeBand(cutout.selection, widthPx, e, progress.part(0, 0.5)));
  return matte::openPockets(band, source, kPocketReach * widthPx, e, progress.part(0.5, 1));
}

using BandMaker = std::function<base::Result<image::TiledImage>(const scene::Cutout&, const image::TiledImage&, base::Executor&,
                                                                const base::Progress&)>;
void makeBand(Desk& desk, const QString& name, const std::string& recipe, const BandMaker& maker,
              const std::function<void()>& done) {
  const auto* p = selectedOf(desk);
  if (!p) return;
  const scene::LayerId id = desk.session.active();
  desk.jobs.start<image::TiledImage>(
      name,
      [cutout = *p->cutout, source = p->source, maker](base::Executor& e, const base::Progress& progress) {
        return maker(cutout, source, e, progress);
      },
      [&desk, from = desk.session.scene(), id, recipe, done](image::TiledImage band) {
        if (desk.session.applyResult(scene::SetBand{id, std::move(band), recipe}, from)) done();
      });
}

constexpr double kWorthALook = 3e6;  // px: below, the cut itself is there as soon

// A large picture's cut is seen within a second, from a coarse level, as a draft: whatever ends the job ends it.
void showQuickly(Desk& desk, scene::LayerId id, const scene::PictureContent& p, const image::TiledImage& mask) {
  const base::Size size = p.source.size();
  if (double(size.width) * double(size.height) < kWorthALook) return;
  auto over = std::make_shared<QMetaObject::Connection>();
  *over = QObject::connect(&desk.jobs, &Lane::changed, &desk.session, [&desk, over] {
    if (desk.jobs.running()) return;
    QObject::disconnect(*over);
    desk.aside.stopSlots(QStringLiteral("quick look"));
    desk.session.draft(std::nullopt);
  });
  desk.aside.ask<base::Result<image::TiledImage>>(
      QStringLiteral("quick look"),
      [cutout = *p.cutout, source = p.source, mask]() -> base::Result<image::TiledImage> {
        base::InlineExecutor here;
        HSEAM_TRY(const image::TiledImage alpha, matte::quickAlpha(source, cutout.selection, cutout.band, here));
        return matte::maskAfterSolving(mask, cutout.outcome(), alpha, here);
      },
      [&desk, id](const base::Result<image::TiledImage>& seen) {
        if (seen.ok() && desk.jobs.running()) desk.session.draft(scene::SetMask{id, *seen, "first look"});
      });
}

struct Solved {
  matte::WholeCut made;
  image::TiledImage mask;
};

}  // namespace

void snapOutline(Desk& desk, const select::Outline& shape, select::Combine way) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  desk.jobs.start<image::TiledImage>(
      QObject::tr("Find the subject in the outline"),
      [source = p->source, selection = selectionOrEmpty(desk), shape, way](
          base::Executor& e, const base::Progress& progress) -> base::Result<image::TiledImage> {
        select::GuessOptions options;
        HSEAM_TRY(options.within, select::combined(image::uniformCoverage(source.size(), 0, source.memory()), shape,
                                                   select::Combine::replace, e));
        HSEAM_TRY(const image::TiledImage found, select::guessSubject(source, options, e, progress));
        const base::Rect whole = base::Rect::of(source.size());
        HSEAM_TRY(const auto pixels, image::read8(found, 0, whole));
        return select::combined(selection, whole, pixels, way, e);
      },
      [&desk, from = desk.session.scene(), id = desk.session.active()](image::TiledImage selection) {
        desk.session.applyResult(scene::SetSelection{id, std::move(selection), "the subject in an outline"}, from);
      });
}

image::TiledImage selectionOrEmpty(Desk& desk) {
  const auto* p = desk.session.activeLayer()->picture();
  return p->cutout->selection.isNull() ? image::uniformCoverage(p->source.size(), 0, desk.session.memory())
                                       : p->cutout->selection;
}

void reshapeSelection(Desk& desk, const Reshape& reshape, const QString& how) {
  const auto* p = selectedOf(desk);
  if (!p) return;
  const scene::LayerId id = desk.session.active();
  desk.jobs.start<image::TiledImage>(
      QObject::tr("Reshape the selection"),
      [selection = p->cutout->selection, reshape](base::Executor& e, const base::Progress&) { return reshape(selection, e); },
      [&desk, from = desk.session.scene(), id, how](image::TiledImage selection) {
        desk.session.applyResult(scene::SetSelection{id, std::move(selection), how.toStdString()}, from);
      });
}

void layBand(Desk& desk, double widthPx, const std::function<void()>& done) {
  makeBand(
      desk, QObject::tr("Lay the band"), matte::toText(matte::CutRecipe{widthPx, {}}),
      [widthPx](const scene::Cutout& cutout, const image::TiledImage& source, base::Executor& e, const base::Progress& progress) {
        return bandAlong(cutout, source, widthPx, e, progress);
      },
      done);
}

void findBand(Desk& desk, const std::function<void(std::vector<base::Rect>)>& done) {
  const auto* p = selectedOf(desk);
  if (!p) return;
  desk.jobs.start<matte::FoundBand>(
      QObject::tr("Find the band"),
      [selection = p->cutout->selection, source = p->source](base::Executor& e, const base::Progress& progress) {
        return matte::findBandAndMisses(source, selection, {}, e, progress);
      },
      [&desk, from = desk.session.scene(), id = desk.session.active(), done](matte::FoundBand found) {
        if (desk.session.applyResult(scene::SetBand{id, std::move(found.band), matte::toText(matte::CutRecipe{})}, from))
          done(std::move(found.missed));
      });
}

void solveEdge(Desk& desk, const std::function<void()>& done) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  if (p->cutout->band.isNull() && p->cutout->selection.isNull()) {
    emit desk.messages.said(QObject::tr("Nothing is selected yet: guess the subject or draw round it"));
    return;
  }
  const scene::LayerId id = desk.session.active();
  const scene::Cutout before = *p->cutout;
  const image::TiledImage mask = desk.session.activeLayer()->mask.byHand();
  const matte::CutRecipe recipe = matte::cutRecipeFrom(before.recipe);
  showQuickly(desk, id, *p, mask);
  desk.jobs.start<Solved>(
      QObject::tr("Solve the edge"),
      [before, mask, source = p->source](base::Executor& e, const base::Progress& progress) -> base::Result<Solved> {
        Solved s;
        HSEAM_TRY(const matte::EdgePlan plan, matte::edgePlanFrom(before.edgePlan));
        HSEAM_TRY(s.made, matte::wholeCut(source, before.selection, before.band, plan, image::PixelFormat::grey8, e, progress));
        HSEAM_TRY(s.mask, matte::maskAfterSolving(mask, before.outcome(), s.made.outcome(), e));
        return s;
      },
      [&desk, from = desk.session.scene(), id, recipe, done, mask, oldAlpha = before.outcome(),
       bandBefore = before.band.stamp()](Solved s) {
        // A band or a selection that was changed meanwhile asks for another cut.
        const scene::Edit band = scene::SetBand{id, s.made.band, matte::toText(recipe)};
        if (scene::changedMeanwhile(from, desk.session.scene(), band)) {
          desk.session.applyResult(band, from);
          return;
        }
        // What was painted while the solver worked stays as well.
        const scene::Layer* now = scene::findLayer(desk.session.scene(), id);
        const image::TiledImage& outcome = s.made.outcome();
        if (now && now->mask.byHand().stamp() != mask.stamp()) {
          const image::TiledImage atStart =
              mask.isNull() ? image::uniformCoverage(outcome.size(), 255, desk.session.memory()) : mask;
          if (auto kept = matte::maskAfterSolving(now->mask.byHand(), oldAlpha.isNull() ? atStart : oldAlpha, outcome,
                                                  desk.session.executor());
              kept.ok())
            s.mask = *kept;
        }
        if (s.made.band.stamp() != bandBefore) desk.session.apply(band);
        matte::CutRecipe solved = recipe;
        solved.encodedShare = s.made.cut.encodedShare;  // which solving a stretch again wants to know
        desk.session.apply(scene::SetCut{id, s.made.cut.alpha, s.made.cut.clean, s.mask, matte::toText(solved), s.made.shaped});
        if (!s.made.cut.missing.empty())
          emit desk.messages.said(QObject::tr("Solved from this picture's colours alone, without what was learned (%1)")
                                      .arg(QString::fromStdString(s.made.cut.missing)));
        done();
      });
}

void solveStretch(Desk& desk, const matte::MarkedStretch& mark, matte::EdgeKind as, double reachPx) {
  const auto* p = pictureOf(desk);
  if (!p) return;
  if (p->cutout->alpha.isNull()) {
    emit desk.messages.said(QObject::tr("Solve the whole edge first; then a stretch of it can be solved as something else"));
    return;
  }
  struct Stretch {
    matte::SolvedStretch solved;
    std::string plan;
    matte::Shaping shaping;
  };
  const scene::LayerId id = desk.session.active();
  const scene::Cutout before = *p->cutout;
  desk.jobs.start<Stretch>(
      QObject::tr("Solve the stretch"),
      [before, mark, as, reachPx, source = p->source, mask = desk.session.activeLayer()->mask.byHand()](
          base::Executor& e, const base::Progress& progress) -> base::Result<Stretch> {
        Stretch s;
        HSEAM_TRY(matte::EdgePlan plan, matte::edgePlanFrom(before.edgePlan));
        matte::StretchSolveOptions options;
        options.as = as;
        options.reachPx = reachPx;
        options.solving.encodedShare = matte::cutRecipeFrom(before.recipe).encodedShare;
        HSEAM_TRY(s.solved, matte::solveMarked(source, before.band, {before.alpha, before.clean, 0}, mark, options, e,
                                               progress.part(0, 0.8)));
        auto& marked = matte::entryOf(plan, mark);
        marked.kind = as;
        s.plan = matte::toText(plan);
        HSEAM_TRY(s.shaping, matte::shaping(s.solved.cut.alpha, plan, before.outcome(), mask, e, progress.part(0.8, 1)));
        return s;
      },
      [&desk, from = desk.session.scene(), id, recipe = before.recipe, as](Stretch s) {
        scene::Several all{QObject::tr("solve a stretch as %1").arg(QLatin1String(matte::nameOf(as))).toStdString(), {}};
        if (!s.solved.band.isNull()) all.edits.push_back({scene::SetBand{id, s.solved.band, recipe}});
        all.edits.push_back(
            {scene::SetCut{id, s.solved.cut.alpha, s.solved.cut.clean, s.shaping.mask, recipe, s.shaping.shaped}});
        all.edits.push_back({scene::SetEdgePlan{id, s.plan, s.shaping.shaped, s.shaping.mask, "a stretch"}});
        desk.session.applyResult(all, from);
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
