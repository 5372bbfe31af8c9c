#include "app/widgets/tip_fields.h"

#include <QVBoxLayout>

namespace hseam::app {

TipFields::TipFields(const paint::Tip& first, const QString& strengthWhy, QWidget* parent)
    : QWidget(parent),
      size_(new ValueField(tr("size"), {1, 2000, first.sizePx, 0, tr("px"), false}, tr("Diameter of the tip (Alt + wheel)"))),
      hardness_(new ValueField(tr("hardness"), {0, 100, first.hardness * 100, 0, tr("%"), true},
                               tr("How much of the tip covers fully (Alt + Shift + wheel)"))),
      strength_(new ValueField(tr("strength"), {1, 100, first.strength * 100, 0, tr("%"), true}, strengthWhy)) {
  auto* c = new QVBoxLayout(this);
  c->setContentsMargins(0, 0, 0, 0);
  c->setSpacing(6);
  for (ValueField* f : {size_, hardness_, strength_}) {
    c->addWidget(f);
    connect(f, &ValueField::changed, this, &TipFields::changed);
    connect(f, &ValueField::changing, this, &TipFields::changed);
  }
}

paint::Tip TipFields::tip() const {
  return {size_->value(), hardness_->value() / 100, strength_->value() / 100};
}

void TipFields::setTip(const paint::Tip& tip) {
  size_->setValue(tip.sizePx);
  hardness_->setValue(tip.hardness * 100);
}

}  // namespace hseam::app
