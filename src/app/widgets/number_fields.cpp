#include "app/widgets/number_fields.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QLabel>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "app/widgets/hue_ring.h"
#include "app/widgets/value_field.h"

namespace hseam::app {

NumberFields::NumberFields(QWidget* parent) : QWidget(parent), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
}

void NumberFields::show(const scene::ParametricAdjustment& numbers) {
  if (shown_.values.empty() || numbers.id != shown_.id) build(numbers);
  shown_ = numbers;
  for (std::size_t i = 0; i < fields_.size(); ++i) {
    if (fields_[i]) fields_[i]->setValue(numbers.values[i] * numbers.of().fields[i].shownTimes);
  }
  showRing();
}

void NumberFields::build(const scene::ParametricAdjustment& numbers) {
  delete page_;
  fields_.clear();
  section_ = nullptr;
  ring_ = nullptr;
  amounts_ = nullptr;
  amountNames_.clear();
  page_ = new QWidget;
  auto* column = new QVBoxLayout(page_);
  column->setContentsMargins(0, 0, 0, 0);
  const auto& kind = numbers.of();
  QStringList sections;
  for (const auto& f : kind.fields) {
    if (f.hue >= 0) {
      if (const QString amount = tr(f.amount); !amountNames_.contains(amount)) amountNames_ << amount;
      continue;
    }
    if (const QString name = tr(f.section); !name.isEmpty() && !sections.contains(name)) sections << name;
  }
  if (sections.size() > 1) {
    section_ = new QComboBox;
    section_->addItems(sections);
    section_->setAccessibleName(tr("Which part of %1").arg(tr(kind.name)));
    section_->setToolTip(tr("The fields below act on this"));
    connect(section_, &QComboBox::currentIndexChanged, this, &NumberFields::showSection);
    column->addWidget(section_);
  }
  if (!amountNames_.isEmpty()) buildRing(column);
  for (std::size_t i = 0; i < kind.fields.size(); ++i) {
    const auto& f = kind.fields[i];
    if (f.hue >= 0) {
      fields_.push_back(nullptr);
      continue;
    }
    if (ring_ && i == 0) column->addWidget(quietLabel(tr("All hues together:")));
    const double k = f.shownTimes;
    auto* field = new ValueField(tr(f.name), {f.low * k, f.high * k, f.initial * k, f.decimals, tr(f.unit), true}, tr(f.tip));
    const auto take = [this, i, k](double value) {
      shown_.values[i] = value / k;
      return shown_;
    };
    connect(field, &ValueField::changing, this, [this, take](double v) { emit changing(take(v)); });
    connect(field, &ValueField::changed, this, [this, take](double v) { emit changed(take(v)); });
    fields_.push_back(field);
    column->addWidget(field);
  }
  column->addStretch(1);
  column_->addWidget(page_);
  shown_ = numbers;
  showSection();
  showRing();
}

void NumberFields::buildRing(QVBoxLayout* column) {
  ring_ = new HueRing;
  connect(ring_, &HueRing::changing, this, [this](int tack, double v) {
    shown_.values[std::size_t(onRing_[std::size_t(tack)])] = v;
    emit changing(shown_);
  });
  connect(ring_, &HueRing::changed, this, [this](int tack, double v) {
    shown_.values[std::size_t(onRing_[std::size_t(tack)])] = v;
    emit changed(shown_);
  });
  column->addWidget(ring_);
  if (amountNames_.size() < 2) return;
  amounts_ = new QButtonGroup(page_);
  QList<QWidget*> row;
  for (int i = 0; i < amountNames_.size(); ++i) {
    auto* b = new QRadioButton(amountNames_[i]);
    b->setToolTip(tr("The tacks stand for the %1 of their hue").arg(amountNames_[i]));
    b->setChecked(i == 1);
    amounts_->addButton(b, i);
    row << b;
  }
  connect(amounts_, &QButtonGroup::idClicked, this, &NumberFields::showRing);
  column->addWidget(rowOf(row));
}

void NumberFields::showRing() {
  if (!ring_) return;
  const QString amount = amountNames_[amounts_ ? amounts_->checkedId() : 0];
  onRing_.clear();
  std::vector<HueRing::Tack> tacks;
  const auto& fields = shown_.of().fields;
  for (std::size_t i = 0; i < fields.size(); ++i) {
    const auto& f = fields[i];
    if (f.hue < 0 || tr(f.amount) != amount) continue;
    onRing_.push_back(int(i));
    tacks.push_back(
        {tr(*f.section ? f.section : f.name), f.hue, f.low, f.high, f.initial, shown_.values[i], tr(f.unit), f.shownTimes});
  }
  ring_->setTacks(tr("%1 of the hues").arg(amount), tacks);
}

void NumberFields::showSection() {
  if (!section_) return;
  for (std::size_t i = 0; i < fields_.size(); ++i)
    if (fields_[i]) fields_[i]->setVisible(tr(shown_.of().fields[i].section) == section_->currentText());
}

}  // namespace hseam::app
