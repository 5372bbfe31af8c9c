#include "app/stations/match.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stations/adjust_editors.h"
#include "app/stations/adjustment_shelves.h"
#include "app/stations/merged_copy.h"

namespace hseam::app {
namespace {

using scene::CurvePoints;
using scene::Curves;

}  // namespace

Match::Match(Desk& desk, QWidget* parent) : Station(desk, parent) {
  buildBlend();
  buildAdd();
  buildAdjust();
  lightsPleat_ = pleats_->add(tr("Shadows and light"), tr("What ties a subject to the ground and to the scene's light"));
  lights_ = new Lights(desk);
  lightsPleat_->content()->addWidget(lights_);
  fillsPleat_ = pleats_->add(tr("Colours and shapes"), tr("Layers made of colour, gradients and noise; shapes and stitches"));
  fills_ = new Fills(desk);
  fillsPleat_->content()->addWidget(fills_);
  paintPleat_ = pleats_->add(tr("Paint the mask"), tr("Where the active layer shows or acts, painted by hand"));
  paint_ = new PaintMask(desk, [this] { return view(); });
  paintPleat_->content()->addWidget(paint_);
  connect(paint_, &PaintMask::changed, this, &Station::changed);
  Pleat* group = pleats_->add(tr("Group"), tr("Layers that act together on a canvas of their own"));
  group->content()->addWidget(
      button(tr("Make a group"),
             tr("The layers in hand (Ctrl+click), or the active one and the layer below, become a group with its own mask, mode "
                "and opacity"),
             [this] {
               const auto held = desk_.document().inHand();
               if (held.size() > 1) {
                 desk_.apply(scene::GroupLayers{held, scene::freeId(desk_.scene()), "group"});
                 return;
               }
               const auto at = scene::positionOf(desk_.scene(), desk_.document().active());
               if (!at || at->index == 0) {
                 emit desk_.said(tr("There is no layer below to group with"));
                 return;
               }
               const scene::Layer* parent = scene::findLayer(desk_.scene(), at->parent);
               const auto& list = parent ? parent->group()->layers : desk_.scene().layers;
               desk_.apply(scene::GroupLayers{
                   {list[std::size_t(at->index) - 1]->id, desk_.document().active()}, scene::freeId(desk_.scene()), "group"});
             }));
  group->content()->addWidget(button(tr("Merged so far"),
                                     tr("A picture of what the scene shows up to the active layer, over it; all layers stay"),
                                     [this] { mergedSoFar(desk_); }));
  group->content()->addWidget(button(tr("Take the group apart"), tr("Its layers stand in the sheet by themselves again"), [this] {
    if (desk_.active() && desk_.active()->group()) desk_.apply(scene::Ungroup{desk_.document().active()});
  }));
  carryPleat_ = pleats_->add(tr("Carry over"), tr("Give the active layer what another one has: its mask, its adjustments"));
  carry_ = new CarryOver(desk);
  carryPleat_->content()->addWidget(carry_);
  partsPleat_ =
      pleats_->add(tr("Mask by numbers"), tr("Gradients, tones, a colour or another layer's shape as parts of the mask"));
  parts_ = new MaskParts(desk);
  partsPleat_->content()->addWidget(parts_);
  connect(parts_, &MaskParts::changed, this, &Station::changed);
  wordsPleat_ = pleats_->add(tr("Words"), tr("Titles and captions that stay words"));
  words_ = new Words(desk);
  wordsPleat_->content()->addWidget(words_);
  colourPleat_ = pleats_->add(tr("Paint with colour"), tr("On a layer of its own: rims, dust, touched-up shadows"));
  paintColour_ = new PaintColour(desk);
  colourPleat_->content()->addWidget(paintColour_);
  connect(paintColour_, &PaintColour::changed, this, &Station::changed);
  looksPleat_ = pleats_->add(tr("Looks"), tr("Stacks of adjustments under a name, for every project"));
  looks_ = new Looks(desk);
  looksPleat_->content()->addWidget(looks_);
  pleats_->open(addPleat_);
}

void Match::buildBlend() {
  blendPleat_ = pleats_->add(tr("Blend"), tr("How the active layer meets what lies below it"));
  mode_ = new QComboBox;
  for (int i = 0; i < scene::kBlendModeCount; ++i) mode_->addItem(QString::fromLatin1(scene::blendModeName(scene::BlendMode(i))));
  mode_->setAccessibleName(tr("Blend mode"));
  mode_->setToolTip(
      tr("Multiply darkens, screen lightens, overlay and soft-light add contrast, color and luminosity take one part of the "
         "colour each"));
  connect(mode_, &QComboBox::activated, this, [this](int i) {
    desk_.apply(scene::SetMode{desk_.document().active(), scene::BlendMode(i)});
  });
  auto* name = quietLabel(tr("blend mode"));
  name->setFixedWidth(74);
  blendPleat_->content()->addWidget(rowOf({name, mode_}));
  opacity_ = new ValueField(tr("opacity"), {0, 100, 100, 0, tr("%"), true}, tr("How strongly the layer shows"));
  connect(opacity_, &ValueField::changing, this, [this](double v) {
    desk_.document().draft(scene::SetOpacity{desk_.document().active(), v / 100});
  });
  connect(opacity_, &ValueField::changed, this, [this](double v) {
    desk_.apply(scene::SetOpacity{desk_.document().active(), v / 100});
  });
  blendPleat_->content()->addWidget(opacity_);
  tones_ = new TonePatch;
  connect(tones_, &TonePatch::changing, this, [this](const scene::ShowsByTone& s) {
    desk_.document().draft(scene::SetShows{desk_.document().active(), s});
  });
  connect(tones_, &TonePatch::changed, this, [this](const scene::ShowsByTone& s) {
    desk_.apply(scene::SetShows{desk_.document().active(), s});
  });
  blendPleat_->content()->addWidget(quietLabel(tr("Shows by brightness:")));
  blendPleat_->content()->addWidget(tones_);
}

void Match::buildAdd() {
  addPleat_ = pleats_->add(tr("Add an adjustment"),
                           tr("A layer that changes tones or colours of what lies below, with a mask of its own"));
  auto* confined = new QCheckBox(tr("confine to the active layer"));
  confined->setChecked(true);
  confined->setToolTip(tr("The adjustment acts on the active layer alone; else on everything below it"));
  addPleat_->content()->addWidget(confined);
  for (QWidget* row : shelves([this, confined](const scene::Adjustment& a) { add(a, confined->isChecked()); }))
    addPleat_->content()->addWidget(row);
  addPleat_->content()->addWidget(
      quietLabel(tr("Hide all of its mask and paint it in where it is wanted, or paint it out where it is not.")));
}

void Match::buildAdjust() {
  adjustPleat_ = pleats_->add(tr("Adjust"), tr("The controls of the active adjustment layer"));
  editors_ = new AdjustEditors(desk_);
  adjustPleat_->content()->addWidget(editors_);
}

void Match::add(const scene::Adjustment& adjustment, bool confined) {
  scene::Layer l;
  l.id = scene::freeId(desk_.scene());
  l.name = std::string(scene::adjustmentName(adjustment)) + (confined && desk_.active() ? " on " + desk_.active()->name : "");
  l.content = scene::AdjustmentContent{adjustment};
  const auto at = scene::positionOf(desk_.scene(), desk_.document().active());
  l.clip = confined && at.has_value();
  if (desk_.apply(scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1}))
    pleats_->open(adjustPleat_);
}

View Match::view() const {
  View v;
  if (pleats_->current() == paintPleat_ && paint_->maskAlone() && activePicture()) {
    v.onlyLayer = desk_.document().active();
    v.maskAlone = true;
  }
  return v;
}

Instrument* Match::instrument() {
  // These begin with nothing in hand.
  if (pleats_->current() == wordsPleat_) return words_->tool();
  if (pleats_->current() == colourPleat_) return paintColour_->tool();
  if (!desk_.active()) return nullptr;
  if (pleats_->current() == adjustPleat_) return editors_->tool();
  if (pleats_->current() == lightsPleat_) return lights_->tool();
  if (pleats_->current() == fillsPleat_) return fills_->tool();
  if (pleats_->current() == partsPleat_) return parts_->tool();
  return pleats_->current() == paintPleat_ ? &paint_->tool() : nullptr;
}

void Match::refresh() {
  const scene::Layer* l = desk_.active();
  paint_->refresh();
  lights_->refresh();
  lightsPleat_->setValue(lights_->words());
  fills_->refresh();
  fillsPleat_->setValue(fills_->words());
  if (pleats_->current() == carryPleat_) carry_->refresh();
  parts_->refresh();
  partsPleat_->setValue(parts_->words());
  words_->refresh();
  wordsPleat_->setValue(words_->words());
  paintColour_->refresh();
  colourPleat_->setValue(paintColour_->words());
  if (pleats_->current() == looksPleat_) looks_->refresh();
  tones_->setEnabled(l);
  mode_->setEnabled(l);
  opacity_->setEnabled(l);
  if (!l) {
    editors_->refresh();
    return;
  }
  mode_->setCurrentIndex(int(l->mode));
  opacity_->setValue(l->opacity * 100);
  tones_->setShows(l->shows);
  blendPleat_->setValue(
      QStringLiteral("%1 %2 %").arg(QLatin1String(scene::blendModeName(l->mode))).arg(l->opacity * 100, 0, 'f', 0));
  paintPleat_->setValue(l->mask.coverage.isNull() ? tr("no mask") : (l->mask.enabled ? tr("on") : tr("off")));
  const auto* a = l->adjustment();
  adjustPleat_->setValue(a ? tr(scene::adjustmentName(a->adjustment)) : tr("none chosen"));
  editors_->refresh();
}

// True if an adjustment is confined to the active layer.
bool Match::hasConfined() const {
  const auto at = scene::positionOf(desk_.scene(), desk_.document().active());
  if (!at) return false;
  const scene::Layer* parent = scene::findLayer(desk_.scene(), at->parent);
  const auto& list = parent ? parent->group()->layers : desk_.scene().layers;
  const auto next = std::size_t(at->index) + 1;
  return next < list.size() && list[next]->clip && list[next]->adjustment();
}

NextStep Match::nextStep() const {
  auto* self = const_cast<Match*>(this);
  const scene::Layer* l = desk_.active();
  if (!l) return {tr("Choose a layer"), tr("Click its card in the sheet."), {}, {}};
  if (l->light() || l->fill()) {
    return onTo(kLookOver, tr("Shape %1").arg(activeName()),
                tr("Every change shows in the scene at once. Then look over how it sits."), tr("Go on to Look over"));
  }
  if (l->adjustment())
    return {tr("Shape %1").arg(activeName()), tr("Every change shows in the scene at once. Paint its mask to keep it to a part."),
            tr("Paint the mask"), [self] { self->pleats_->open(self->paintPleat_); }};
  if (hasConfined()) {
    return onTo(kLookOver, tr("Look over %1 in its place").arg(activeName()),
                tr("It has its own adjustment. Shape that by its card in the sheet, or look with other eyes."),
                tr("Go on to Look over"));
  }
  return {tr("Bring %1 into the scene's light").arg(activeName()),
          tr("Curves confined to it: darks and lights first, then colour."), tr("Add curves"),
          [self] { self->add(scene::Curves{}, true); }};
}

std::pair<RunOfWork::Stitch, QString> Match::state() const {
  int adjustments = 0;
  for (const auto& l : scene::allLayers(desk_.scene())) adjustments += l->adjustment() != nullptr;
  if (adjustments == 0) return {RunOfWork::Stitch::none, tr("no adjustment yet")};
  return {RunOfWork::Stitch::loose, adjustments == 1 ? tr("one adjustment") : tr("%1 adjustments").arg(adjustments)};
}

}  // namespace hseam::app
