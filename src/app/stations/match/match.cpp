#include "app/stations/match/match.h"

#include "app/stations/match/blend.h"
#include "app/stations/match/carry_over.h"
#include "app/stations/match/fills.h"
#include "app/stations/match/gloss_page.h"
#include "app/stations/match/grouping.h"
#include "app/stations/match/lay_on_cloth.h"
#include "app/stations/match/lights.h"
#include "app/stations/match/looks.h"
#include "app/stations/match/mask_parts.h"
#include "app/stations/match/mend.h"
#include "app/stations/match/paint_colour.h"
#include "app/stations/match/words.h"
#include "app/stations/paint/paint_mask.h"

namespace hseam::app {

Match::Match(Desk& desk) : Station(desk) {
  heading(tr("Tones, colours and light"));
  adding_ = add(new AddAdjustment(desk));
  add(new Adjust(desk));
  add(new Lights(desk));
  add(new Looks(desk));
  heading(tr("Where the active layer shows"));
  add(new Blend(desk));
  add(new PaintMask(desk, tr("Where the active layer shows or acts, painted by hand"), [this] { return view(); }));
  add(new MaskParts(desk));
  add(new CarryOver(desk));
  heading(tr("Layers of other kinds"));
  add(new Fills(desk));
  add(new Words(desk));
  add(new PaintColour(desk));
  add(new Mend(desk));
  add(new LayOnCloth(desk));
  add(new GlossPage(desk));
  add(new Grouping(desk));
  connect(adding_, &AddAdjustment::added, this, [this] { openPage(QStringLiteral("adjust")); });
  openPage(QStringLiteral("add-adjustment"));
}

// True if an adjustment is confined to the active layer.
bool Match::hasConfined() const {
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  if (!at) return false;
  const scene::Layer* parent = scene::findLayer(desk_.session.scene(), at->parent);
  const auto& list = parent ? parent->group()->layers : desk_.session.scene().layers;
  const auto next = std::size_t(at->index) + 1;
  return next < list.size() && list[next]->clip && list[next]->adjustment();
}

NextStep Match::nextStep() const {
  auto* self = const_cast<Match*>(this);
  const scene::Layer* l = desk_.session.activeLayer();
  if (!l) return {tr("Choose a layer"), tr("Click its card in the sheet."), {}, {}};
  if (l->picture() && l->picture()->byHand) {
    return onTo(kLookOver, tr("Look over what you painted"),
                tr("It lies on a layer of its own; the pictures under it are as they were."), tr("Go on to Look over"));
  }
  if (l->light() || l->fill()) {
    return onTo(kLookOver, tr("Shape %1").arg(activeName()),
                tr("Every change shows in the scene at once. Then look over how it sits."), tr("Go on to Look over"));
  }
  if (l->adjustment())
    return {tr("Shape %1").arg(activeName()), tr("Every change shows in the scene at once. Paint its mask to keep it to a part."),
            tr("Paint the mask"), [self] { self->openPage(QStringLiteral("paint")); }};
  if (hasConfined()) {
    return onTo(kLookOver, tr("Look over %1 in its place").arg(activeName()),
                tr("It has its own adjustment. Shape that by its card in the sheet, or look with other eyes."),
                tr("Go on to Look over"));
  }
  return {tr("Bring %1 into the scene's light").arg(activeName()),
          tr("Curves confined to it: shadows and highlights first, then colour."), tr("Add curves"),
          [self] { self->adding_->add(scene::Curves{}, true); }};
}

std::pair<RunOfWork::Stitch, QString> Match::state() const {
  int adjustments = 0;
  for (const auto& l : scene::allLayers(desk_.session.scene())) adjustments += l->adjustment() != nullptr;
  if (adjustments == 0) return {RunOfWork::Stitch::none, tr("no adjustment yet")};
  return {RunOfWork::Stitch::loose, adjustments == 1 ? tr("one adjustment") : tr("%1 adjustments").arg(adjustments)};
}

}  // namespace hseam::app
