#include "app/stations/guides.h"

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/station.h"

namespace hseam::app {

Guides::Guides(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* list = new QWidget;
  rows_ = new QVBoxLayout(list);
  rows_->setContentsMargins(0, 0, 0, 0);
  column->addWidget(list);
  column->addWidget(rowOf({
      button(tr("Upright guide"), tr("A guide from top to bottom, in the middle at first"), [this] { add(true); }),
      button(tr("Level guide"), tr("A guide from left to right, in the middle at first"), [this] { add(false); }),
      button(tr("Thirds"), tr("Four guides that divide the canvas in three each way; pictures catch on them"),
             [this] {
               auto all = desk_.scene().guides;
               const base::Size c = desk_.scene().canvas;
               for (const int third : {1, 2}) {
                 all.push_back({true, std::round(c.width * third / 3.0)});
                 all.push_back({false, std::round(c.height * third / 3.0)});
               }
               desk_.apply(scene::SetGuides{all});
             }),
  }));
}

void Guides::add(bool vertical) {
  auto all = desk_.scene().guides;
  const base::Size c = desk_.scene().canvas;
  all.push_back({vertical, (vertical ? c.width : c.height) / 2.0});
  desk_.apply(scene::SetGuides{all});
}

void Guides::refresh() {
  const auto& now = desk_.scene().guides;
  const bool sameCount = rows_->count() == int(now.size());
  if (sameCount && shown_ == now) return;
  shown_ = now;
  while (QLayoutItem* item = rows_->takeAt(0)) {
    item->widget()->deleteLater();
    delete item;
  }
  for (std::size_t i = 0; i < now.size(); ++i) {
    auto* at = new QDoubleSpinBox;
    at->setRange(-1e6, 1e6);
    at->setDecimals(1);
    at->setSuffix(tr(" px"));
    at->setKeyboardTracking(false);
    at->setAccessibleName(now[i].vertical ? tr("Upright guide, from the left") : tr("Level guide, from the top"));
    at->setToolTip(tr("Where the guide lies"));
    at->setValue(now[i].at);
    connect(at, &QDoubleSpinBox::valueChanged, this, [this, i](double v) {
      auto all = desk_.scene().guides;
      if (i >= all.size()) return;
      all[i].at = v;
      shown_ = all;  // the field that is being typed into stays
      desk_.apply(scene::SetGuides{all});
    });
    auto* name = quietLabel(now[i].vertical ? tr("from the left") : tr("from the top"));
    name->setFixedWidth(80);
    rows_->addWidget(rowOf({name, at, button(tr("Away"), tr("Take this guide away"), [this, i] {
                              auto all = desk_.scene().guides;
                              if (i >= all.size()) return;
                              all.erase(all.begin() + long(i));
                              desk_.apply(scene::SetGuides{all});
                            })}));
  }
}

}  // namespace hseam::app
