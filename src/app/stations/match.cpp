#include "app/stations/match.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme/theme.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

using scene::CurvePoints;
using scene::Curves;

// channel 0: luma, else red, green, blue.
CurveEditor::Histogram histogramOf(const scene::Scene& scene, int channel) {
  CurveEditor::Histogram h{};
  int level = 0;
  while ((scene.canvas.width >> level) > 256 || (scene.canvas.height >> level) > 256) ++level;
  base::InlineExecutor here;
  render::Renderer renderer;
  const auto pixels = renderer.render(scene, base::Rect::of(render::canvasAt(scene, level)), level, here);
  if (!pixels.ok()) return h;
  for (std::size_t i = 0; i < pixels->pixels(); ++i) {
    const float* p = pixels->samples().data() + i * 4;
    if (p[3] <= 0) continue;
    const float v = channel == 0 ? 0.3f * p[0] + 0.59f * p[1] + 0.11f * p[2] : p[channel - 1];
    h[std::size_t(std::clamp(v, 0.f, 1.f) * 127)] += 1;
  }
  // The tallest peaks are cut, so that one flat sky does not press all the rest to the floor.
  auto sorted = h;
  std::nth_element(sorted.begin(), sorted.begin() + 120, sorted.end());
  const float top = std::max(1.f, sorted[120]);
  for (float& v : h) v = std::min(1.f, v / top);
  return h;
}

CurvePoints Curves::*const kChannels[] = {&Curves::rgb, &Curves::red, &Curves::green, &Curves::blue};

}  // namespace

Match::Match(Desk& desk, QWidget* parent) : Station(desk, parent) {
  buildBlend();
  buildAdd();
  buildAdjust();
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
  group->content()->addWidget(button(tr("Take the group apart"), tr("Its layers stand in the sheet by themselves again"), [this] {
    if (desk_.active() && desk_.active()->group()) desk_.apply(scene::Ungroup{desk_.document().active()});
  }));
  carryPleat_ = pleats_->add(tr("Carry over"), tr("Give the active layer what another one has: its mask, its adjustments"));
  carry_ = new CarryOver(desk);
  carryPleat_->content()->addWidget(carry_);
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
}

void Match::buildAdd() {
  addPleat_ = pleats_->add(tr("Add an adjustment"),
                           tr("A layer that changes tones or colours of what lies below, with a mask of its own"));
  auto* confined = new QCheckBox(tr("confine to the active layer"));
  confined->setChecked(true);
  confined->setToolTip(tr("The adjustment acts on the active layer alone; else on everything below it"));
  addPleat_->content()->addWidget(confined);
  addPleat_->content()->addWidget(rowOf({
      button(tr("Curves"), tr("Tones by a curve over the histogram"),
             [this, confined] { add(scene::Curves{}, confined->isChecked()); }),
      button(tr("Levels"), tr("Darkest, middle and lightest tone"),
             [this, confined] { add(scene::Levels{}, confined->isChecked()); }),
      button(tr("Colour balance"), tr("Lean darks, mids and lights towards a colour"),
             [this, confined] { add(scene::ColourBalance{}, confined->isChecked()); }),
  }));
  addPleat_->content()->addWidget(rowOf({
      button(tr("Exposure"), tr("Light times two for each stop"),
             [this, confined] { add(scene::Exposure{}, confined->isChecked()); }),
      button(tr("Saturation"), tr("Colour stronger or weaker, lightness kept"),
             [this, confined] { add(scene::Saturation{}, confined->isChecked()); }),
  }));
  addPleat_->content()->addWidget(
      quietLabel(tr("Hide all of its mask and paint it in where it is wanted, or paint it out where it is not.")));
}

void Match::buildAdjust() {
  adjustPleat_ = pleats_->add(tr("Adjust"), tr("The controls of the active adjustment layer"));
  editors_ = new QStackedWidget;
  editors_->addWidget(quietLabel(tr("Choose an adjustment in the sheet, or add one.")));

  auto* curves = new QWidget;
  auto* c = new QVBoxLayout(curves);
  c->setContentsMargins(0, 0, 0, 0);
  channel_ = new QComboBox;
  channel_->addItems({tr("all channels"), tr("red"), tr("green"), tr("blue")});
  channel_->setAccessibleName(tr("Channel of the curve"));
  channel_->setToolTip(tr("Which channel the curve bends"));
  connect(channel_, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
  curve_ = new CurveEditor;
  const auto bend = [this](const CurvePoints& points, bool keep) {
    const auto* a = desk_.active() ? desk_.active()->adjustment() : nullptr;
    if (!a || !std::holds_alternative<Curves>(a->adjustment)) return;
    Curves next = std::get<Curves>(a->adjustment);
    next.*kChannels[channel_->currentIndex()] = points;
    editAdjustment(next, keep);
  };
  connect(curve_, &CurveEditor::changing, this, [bend](const CurvePoints& p) { bend(p, false); });
  connect(curve_, &CurveEditor::changed, this, [bend](const CurvePoints& p) { bend(p, true); });
  c->addWidget(channel_);
  c->addWidget(curve_);
  c->addStretch(1);
  editors_->addWidget(curves);

  auto* levels = new QWidget;
  auto* l = new QVBoxLayout(levels);
  l->setContentsMargins(0, 0, 0, 0);
  const struct {
    QString name, tip;
    ValueField::Range range;
  } rows[] = {{tr("black at"), tr("Tones up to here become the darkest"), {0, 254, 0, 0, {}, true}},
              {tr("white at"), tr("Tones from here on become the lightest"), {1, 255, 255, 0, {}, true}},
              {tr("middle"), tr("Above 1 lightens the middle tones, below 1 darkens them"), {0.1, 10, 1, 2, {}, false}},
              {tr("darkest"), tr("The darkest tone that comes out"), {0, 255, 0, 0, {}, true}},
              {tr("lightest"), tr("The lightest tone that comes out"), {0, 255, 255, 0, {}, true}}};
  for (const auto& r : rows) {
    auto* f = new ValueField(r.name, r.range, r.tip);
    levels_.push_back(f);
    l->addWidget(f);
    const auto take = [this](bool keep) {
      scene::Levels next{levels_[0]->value() / 255, levels_[1]->value() / 255, levels_[2]->value(), levels_[3]->value() / 255,
                         levels_[4]->value() / 255};
      next.white = std::max(next.white, next.black + 1.0 / 255);
      editAdjustment(next, keep);
    };
    connect(f, &ValueField::changing, this, [take] { take(false); });
    connect(f, &ValueField::changed, this, [take] { take(true); });
  }
  l->addStretch(1);
  editors_->addWidget(levels);

  tints_ = new TintPlane;
  connect(tints_, &TintPlane::changing, this, [this](const scene::ColourBalance& b) { editAdjustment(b, false); });
  connect(tints_, &TintPlane::changed, this, [this](const scene::ColourBalance& b) { editAdjustment(b, true); });
  editors_->addWidget(tints_);
  const auto single = [this](const QString& name, const ValueField::Range& range, const QString& tip,
                             const std::function<scene::Adjustment(double)>& make) {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    auto* field = new ValueField(name, range, tip);
    connect(field, &ValueField::changing, this, [this, make](double v) { editAdjustment(make(v), false); });
    connect(field, &ValueField::changed, this, [this, make](double v) { editAdjustment(make(v), true); });
    column->addWidget(field);
    column->addStretch(1);
    editors_->addWidget(page);
    return field;
  };
  exposure_ = single(tr("exposure"), {-10, 10, 0, 2, tr("stops"), true}, tr("One stop is twice the light"),
                     [](double v) { return scene::Exposure{v}; });
  saturation_ = single(tr("saturation"), {-100, 200, 0, 0, tr("%"), true}, tr("-100 % is grey; lightness stays"),
                       [](double v) { return scene::Saturation{v / 100}; });
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

void Match::editAdjustment(const scene::Adjustment& adjustment, bool keep) {
  const scene::Layer* l = desk_.active();
  if (!l || !l->adjustment() || l->adjustment()->adjustment.index() != adjustment.index()) return;
  const scene::SetAdjustment edit{l->id, adjustment};
  if (!keep) {
    desk_.document().draft(edit);
  } else if (!(l->adjustment()->adjustment == adjustment)) {
    desk_.apply(edit);
  } else {
    desk_.document().draft(std::nullopt);
  }
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
  return pleats_->current() == paintPleat_ && desk_.active() ? &paint_->tool() : nullptr;
}

void Match::refresh() {
  const scene::Layer* l = desk_.active();
  paint_->refresh();
  if (pleats_->current() == carryPleat_) carry_->refresh();
  mode_->setEnabled(l);
  opacity_->setEnabled(l);
  if (!l) {
    editors_->setCurrentIndex(0);
    return;
  }
  mode_->setCurrentIndex(int(l->mode));
  opacity_->setValue(l->opacity * 100);
  blendPleat_->setValue(
      QStringLiteral("%1 %2 %").arg(QLatin1String(scene::blendModeName(l->mode))).arg(l->opacity * 100, 0, 'f', 0));
  paintPleat_->setValue(l->mask.coverage.isNull() ? tr("no mask") : (l->mask.enabled ? tr("on") : tr("off")));
  const auto* a = l->adjustment();
  adjustPleat_->setValue(a ? tr(scene::adjustmentName(a->adjustment)) : tr("none chosen"));
  editors_->setCurrentIndex(a ? int(a->adjustment.index()) + 1 : 0);
  if (!a) return;
  if (const auto* c = std::get_if<Curves>(&a->adjustment)) {
    const bool dark = theme::look() == theme::Look::dark;
    const QColor colours[] = {theme::colours().text, dark ? QColor(255, 130, 130) : QColor(170, 20, 20),
                              dark ? QColor(130, 230, 140) : QColor(10, 100, 20),
                              dark ? QColor(140, 170, 255) : QColor(20, 40, 180)};
    curve_->setColour(colours[channel_->currentIndex()]);
    curve_->setCurve(c->*kChannels[channel_->currentIndex()]);
    if (pleats_->current() == adjustPleat_) refreshHistograms();
  } else if (const auto* v = std::get_if<scene::Levels>(&a->adjustment)) {
    const double shown[] = {v->black * 255, v->white * 255, v->middle, v->outBlack * 255, v->outWhite * 255};
    for (std::size_t i = 0; i < levels_.size(); ++i) levels_[i]->setValue(shown[i]);
  } else if (const auto* e = std::get_if<scene::Exposure>(&a->adjustment)) {
    exposure_->setValue(e->stops);
  } else if (const auto* k = std::get_if<scene::Saturation>(&a->adjustment)) {
    saturation_->setValue(k->amount * 100);
  } else {
    tints_->setBalance(std::get<scene::ColourBalance>(a->adjustment));
  }
}

// Tones of the scene as it is and of the scene without this adjustment, from a small rendering.
void Match::refreshHistograms() {
  struct Both {
    CurveEditor::Histogram with{}, without{};
  };
  const scene::Scene& s = desk_.document().shown();
  auto without = scene::apply(s, scene::SetHidden{desk_.document().active(), true});
  if (!without.ok()) return;
  desk_.aside().ask<Both>(
      QStringLiteral("histograms"),
      [s, other = std::move(without).value(), channel = channel_->currentIndex()] {
        return Both{histogramOf(s, channel), histogramOf(other, channel)};
      },
      [this](const Both& h) { curve_->setHistograms(h.with, h.without); });
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
