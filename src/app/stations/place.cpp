#include "app/stations/place.h"

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hseam::app {

Place::Place(Desk& desk, QWidget* parent) : Station(desk, parent), setInPlace_(desk) {
  Pleat* pleat = pleats_->add(tr("Set in place"), tr("Move, scale, turn and flip the active picture"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  using P = scene::Placement;
  const struct {
    QString name, unit;
    double low, high, step;
    double P::*member;
    double factor;
  } rows[] = {{tr("from the left"), tr("px"), -1e6, 1e6, 1, &P::x, 1},
              {tr("from the top"), tr("px"), -1e6, 1e6, 1, &P::y, 1},
              {tr("scale"), tr("%"), 0.5, 5000, 1, &P::scale, 100},
              {tr("turn"), tr("°"), -360, 360, 1, &P::rotationDeg, 1},
              {tr("lean"), tr("°"), -80, 80, 1, &P::skewDeg, 1}};
  int row = 0;
  for (const auto& r : rows) {
    grid->addWidget(quietLabel(r.name), row, 0);
    grid->addWidget(number(r.name, r.low, r.high, r.unit, r.step, r.member, r.factor), row++, 1);
  }
  pleat->content()->addLayout(grid);
  pleat->content()->addWidget(rowOf({
      button(tr("Flip sideways"), tr("Left becomes right"), [this] { change([](P& p) { p.flipX = !p.flipX; }, false); }),
      button(tr("Flip over"), tr("Top becomes bottom"), [this] { change([](P& p) { p.flipY = !p.flipY; }, false); }),
  }));
  pleat->content()->addWidget(rowOf({
      button(tr("Fit inside"), tr("As large as it can be without leaving the canvas"), [this] { fitCanvas(false); }),
      button(tr("Cover all"), tr("Just large enough to cover the canvas"), [this] { fitCanvas(true); }),
      button(tr("True size"), tr("Scale 100 %, not turned, on whole pixels: as sharp as it came"),
             [this] {
               change([](P& p) { p.scale = 1, p.rotationDeg = p.skewDeg = 0, p.x = std::round(p.x), p.y = std::round(p.y); },
                      false);
             }),
  }));
  pleat->content()->addWidget(
      quietLabel(tr("On the picture: drag inside to move, a corner to scale, the round grip to turn. Arrows nudge by 1 px, with "
                    "Shift by 10.")));
  placePleat_ = pleat;
  canvasPleat_ = pleats_->add(tr("Canvas"), tr("Crop, extend, resize or straighten the whole scene; no picture loses a pixel"));
  canvas_ = new CanvasSize(desk);
  canvasPleat_->content()->addWidget(canvas_);
  connect(canvas_, &CanvasSize::changed, this, &Station::changed);
  guidesPleat_ = pleats_->add(tr("Guides"), tr("Straight help lines; pictures catch on them. Also: drag one out of a ruler."));
  guides_ = new Guides(desk);
  guidesPleat_->content()->addWidget(guides_);
  bendPleat_ = pleats_->add(tr("Bend"), tr("By corners, grid or tacks: onto a banner, round a fold"));
  bend_ = new Bend(desk);
  bendPleat_->content()->addWidget(bend_);
  connect(bend_, &Bend::changed, this, &Station::changed);
  floorPleat_ = pleats_->add(tr("Floor and horizon"), tr("How large a subject stands where its foot is"));
  floor_ = new FloorPleat(desk);
  floorPleat_->content()->addWidget(floor_);
  connect(floor_, &FloorPleat::changed, this, &Station::changed);
  arrangePleat_ =
      pleats_->add(tr("Line up"), tr("By marked places, by their sides, at equal distances, or by their differences"));
  arrange_ = new Arrange(desk);
  arrangePleat_->content()->addWidget(arrange_);
  connect(arrange_, &Arrange::changed, this, &Station::changed);
  setInPlace_.setRule([this](const scene::Placement& p) { return floor_->keepsSize() ? floor_->standing(p).value_or(p) : p; });
  pleats_->open(pleat);
}

View Place::view() const {
  View v;
  if (arrange_->differences() && pleats_->current() == arrangePleat_) v.differenceOf = desk_.document().active();
  return v;
}

Instrument* Place::instrument() {
  if (pleats_->current() == arrangePleat_) return activePicture() ? arrange_->tool() : nullptr;
  if (pleats_->current() == canvasPleat_) return canvas_->instrument();
  if (pleats_->current() == floorPleat_) return &floor_->tool();
  if (pleats_->current() == bendPleat_) return bend_->tool().kept() ? &bend_->tool() : nullptr;
  return activePicture() ? &setInPlace_ : nullptr;
}

QDoubleSpinBox* Place::number(const QString& name, double low, double high, const QString& unit, double step,
                              double scene::Placement::*member, double factor) {
  auto* box = new QDoubleSpinBox;
  box->setRange(low, high);
  box->setDecimals(factor == 1 && unit == tr("°") ? 2 : 1);
  box->setSingleStep(step);
  box->setSuffix(QStringLiteral(" ") + unit);
  box->setKeyboardTracking(false);
  box->setAccessibleName(name);
  box->setToolTip(tr("%1: type, or step with the arrow keys and the wheel").arg(name));
  connect(box, &QDoubleSpinBox::valueChanged, this, [this, member, factor](double v) {
    change(
        [this, member, factor, v](scene::Placement& p) {
          const auto* picture = activePicture();
          const base::Size s = picture->source.size();
          const double cx = p.x + p.scale * s.width / 2, cy = p.y + p.scale * s.height / 2;
          p.*member = v / factor;
          if (member != &scene::Placement::scale) return;
          p.x = cx - p.scale * s.width / 2;  // scaling keeps the middle where it is
          p.y = cy - p.scale * s.height / 2;
        },
        false);
  });
  numbers_.push_back({box, member, factor});
  return box;
}

void Place::change(const std::function<void(scene::Placement&)>& change, bool draftOnly) {
  const auto* p = activePicture();
  if (!p) return;
  scene::Placement now = p->placement;
  change(now);
  const scene::SetPlacement edit{desk_.document().active(), now};
  if (draftOnly) {
    desk_.document().draft(edit);
  } else if (!(now == p->placement)) {
    desk_.apply(edit);
  }
}

void Place::fitCanvas(bool cover) {
  const auto* picture = activePicture();
  if (!picture) return;
  const base::Size s = picture->source.size(), c = desk_.scene().canvas;
  change(
      [&](scene::Placement& p) {
        const double w = double(c.width) / s.width, h = double(c.height) / s.height;
        p.scale = cover ? std::max(w, h) : std::min(w, h);
        p.x = (c.width - p.scale * s.width) / 2;
        p.y = (c.height - p.scale * s.height) / 2;
      },
      false);
}

void Place::refresh() {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* p = l ? l->picture() : nullptr;
  canvas_->refresh();
  guides_->refresh();
  bend_->refresh();
  bendPleat_->setValue(bend_->words());
  floor_->refresh();
  floorPleat_->setValue(floor_->words());
  arrange_->refresh();
  arrangePleat_->setValue(arrange_->words());
  const base::Size c = desk_.scene().canvas;
  canvasPleat_->setValue(QStringLiteral("%1 × %2").arg(c.width).arg(c.height));
  guidesPleat_->setValue(desk_.scene().guides.empty() ? tr("none") : QString::number(desk_.scene().guides.size()));
  placePleat_->setEnabled(p != nullptr);
  if (!p) return;
  for (const Number& n : numbers_) {
    const QSignalBlocker quiet(n.box);
    n.box->setValue(p->placement.*n.member * n.factor);
  }
  pleats_->all()[0]->setValue(QStringLiteral("%1 %").arg(p->placement.scale * 100, 0, 'f', 0));
}

NextStep Place::nextStep() const {
  const auto* p = activePicture();
  if (!p)
    return {tr("Choose a picture to place"),
            tr("Click its card in the sheet. The front of the sheet is the front of the scene."),
            {},
            {}};
  if (p->placement.scale > 1.1) {
    return {tr("%1 is enlarged").arg(activeName()),
            tr("At %1 % it is softer than a picture at its true size.").arg(p->placement.scale * 100, 0, 'f', 0),
            {},
            {}};
  }
  return onTo(kMatch, tr("Set %1 in place").arg(activeName()),
              tr("Drag it on the picture. In the sheet, cards further up stand in front. Then match it to the light there."),
              tr("Go on to Match"));
}

std::pair<RunOfWork::Stitch, QString> Place::state() const {
  int placed = 0;
  for (const auto& l : scene::allLayers(desk_.scene())) placed += l->picture() != nullptr;
  if (placed < 2) return {RunOfWork::Stitch::none, tr("needs two pictures")};
  return {RunOfWork::Stitch::tight, tr("%1 in place").arg(placed)};
}

}  // namespace hseam::app
