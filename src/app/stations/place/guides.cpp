#include "app/stations/place/guides.h"

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/builders.h"

namespace hseam::app {

Guides::Guides(Desk& desk)
    : Page(desk, {"guides", tr("Guides"), tr("Straight help lines; pictures catch on them. Also: drag one out of a ruler.")}) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* list = new QWidget;
  rows_ = new QVBoxLayout(list);
  rows_->setContentsMargins(0, 0, 0, 0);
  column->addWidget(list);
  column->addWidget(rowOf({
      button(tr("Upright"), tr("A guide from top to bottom, in the middle at first"),
             [this] {
               add({true, desk_.session.scene().canvas.width / 2.0});
             }),
      button(tr("Level"), tr("A guide from left to right, in the middle at first"),
             [this] {
               add({false, desk_.session.scene().canvas.height / 2.0});
             }),
      button(tr("Fan"),
             tr("Lines that meet in a point, on the horizon at first: edges that run into the distance follow them, and "
                "corners that are bent catch on them"),
             [this] {
               add({false, 0,
                    base::Point{desk_.session.scene().canvas.width / 2.0, scene::floorOf(desk_.session.scene()).horizonY}});
             }),
      button(tr("Thirds"), tr("Four guides that divide the canvas in three each way; pictures catch on them"),
             [this] {
               auto all = desk_.session.scene().guides;
               const base::Size c = desk_.session.scene().canvas;
               for (const int third : {1, 2}) {
                 all.push_back({true, std::round(c.width * third / 3.0)});
                 all.push_back({false, std::round(c.height * third / 3.0)});
               }
               desk_.session.apply(scene::SetGuides{all});
             }),
  }));
}

void Guides::add(const scene::Guide& guide) {
  auto all = desk_.session.scene().guides;
  all.push_back(guide);
  desk_.session.apply(scene::SetGuides{all});
}

QWidget* Guides::numberOf(std::size_t guide, const QString& name, double value, double& (*of)(scene::Guide&)) {
  auto* at = new QDoubleSpinBox;
  at->setRange(-1e6, 1e6);
  at->setDecimals(1);
  at->setKeyboardTracking(false);
  at->setMinimumWidth(60);
  at->setAccessibleName(name);
  at->setToolTip(tr("%1: where it lies, px").arg(name));
  at->setValue(value);
  connect(at, &QDoubleSpinBox::valueChanged, this, [this, guide, of](double v) {
    auto all = desk_.session.scene().guides;
    if (guide >= all.size()) return;
    of(all[guide]) = v;
    shown_ = all;  // the field that is being typed into stays
    desk_.session.apply(scene::SetGuides{all});
  });
  return at;
}

void Guides::refresh() {
  const auto& now = desk_.session.scene().guides;
  const bool sameCount = rows_->count() == int(now.size());
  if (sameCount && shown_ == now) return;
  shown_ = now;
  emptyLayout(*rows_);
  for (std::size_t i = 0; i < now.size(); ++i) {
    const scene::Guide& g = now[i];
    auto* name = quietLabel(g.meets ? tr("fan at") : (g.vertical ? tr("from the left") : tr("from the top")));
    name->setFixedWidth(g.meets ? 44 : 80);
    QList<QWidget*> row{name};
    if (g.meets) {
      row << numberOf(i, tr("Fan, from the left"), g.meets->x, [](scene::Guide& at) -> double& { return at.meets->x; })
          << numberOf(i, tr("Fan, from the top"), g.meets->y, [](scene::Guide& at) -> double& { return at.meets->y; });
    } else {
      row << numberOf(i, g.vertical ? tr("Upright guide, from the left") : tr("Level guide, from the top"), g.at,
                      [](scene::Guide& at) -> double& { return at.at; });
    }
    row << button(tr("Away"), tr("Take this guide away"), [this, i] {
      auto all = desk_.session.scene().guides;
      if (i >= all.size()) return;
      all.erase(all.begin() + long(i));
      desk_.session.apply(scene::SetGuides{all});
    });
    rows_->addWidget(rowOf(row));
  }
}

QString Guides::words() const {
  const auto& all = desk_.session.scene().guides;
  return all.empty() ? tr("none") : QString::number(all.size());
}

}  // namespace hseam::app
