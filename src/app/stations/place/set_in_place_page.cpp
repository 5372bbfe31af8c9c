#include "app/stations/place/set_in_place_page.h"

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>

#include "app/widgets/builders.h"

namespace hseam::app {

SetInPlacePage::SetInPlacePage(Desk& desk)
    : Page(desk, {"set-in-place", tr("Set in place"), tr("Move, scale, turn and flip the active picture")}), tool_(desk.session) {
  auto* c = column();
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
  c->addLayout(grid);
  c->addWidget(rowOf({
      button(tr("Flip sideways"), tr("Left becomes right"), [this] { change([](P& p) { p.flipX = !p.flipX; }, false); }),
      button(tr("Flip over"), tr("Top becomes bottom"), [this] { change([](P& p) { p.flipY = !p.flipY; }, false); }),
  }));
  c->addWidget(rowOf({
      button(tr("Fit inside"), tr("As large as it can be without leaving the canvas"), [this] { fitCanvas(false); }),
      button(tr("Cover all"), tr("Just large enough to cover the canvas"), [this] { fitCanvas(true); }),
      button(tr("True size"), tr("Scale 100 %, not turned, on whole pixels: as sharp as it came"),
             [this] {
               change([](P& p) { p.scale = 1, p.rotationDeg = p.skewDeg = 0, p.x = std::round(p.x), p.y = std::round(p.y); },
                      false);
             }),
  }));
  c->addWidget(
      quietLabel(tr("On the picture: drag inside to move, a corner to scale, the round grip to turn. Arrows nudge by 1 px, with "
                    "Shift by 10.")));
}

QDoubleSpinBox* SetInPlacePage::number(const QString& name, double low, double high, const QString& unit, double step,
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

void SetInPlacePage::change(const std::function<void(scene::Placement&)>& change, bool draftOnly) {
  const auto* p = activePicture();
  if (!p) return;
  scene::Placement now = p->placement;
  change(now);
  const scene::SetPlacement edit{desk_.session.active(), now};
  if (draftOnly) {
    desk_.session.draft(edit);
  } else if (!(now == p->placement)) {
    desk_.session.apply(edit);
  }
}

void SetInPlacePage::fitCanvas(bool cover) {
  const auto* picture = activePicture();
  if (!picture) return;
  const base::Size s = picture->source.size(), c = desk_.session.scene().canvas;
  change(
      [&](scene::Placement& p) {
        const double w = double(c.width) / s.width, h = double(c.height) / s.height;
        p.scale = cover ? std::max(w, h) : std::min(w, h);
        p.x = (c.width - p.scale * s.width) / 2;
        p.y = (c.height - p.scale * s.height) / 2;
      },
      false);
}

QString SetInPlacePage::words() const {
  const auto* p = shownPicture();
  return p ? QStringLiteral("%1 %").arg(p->placement.scale * 100, 0, 'f', 0) : QString();
}

void SetInPlacePage::refresh() {
  const auto* p = shownPicture();
  setEnabled(p != nullptr);
  if (!p) return;
  for (const Number& n : numbers_) {
    const QSignalBlocker quiet(n.box);
    n.box->setValue(p->placement.*n.member * n.factor);
  }
}

}  // namespace hseam::app
