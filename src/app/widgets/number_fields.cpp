#include "app/widgets/number_fields.h"

#include <QComboBox>
#include <QVBoxLayout>

#include "app/widgets/value_field.h"

namespace hseam::app {

NumberFields::NumberFields(QWidget* parent) : QWidget(parent), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
}

void NumberFields::show(const scene::ByNumbers& numbers) {
  if (numbers.kind != shown_.kind) build(numbers);
  shown_ = numbers;
  for (std::size_t i = 0; i < fields_.size(); ++i) fields_[i]->setValue(numbers.values[i] * numbers.of().fields[i].shownTimes);
}

void NumberFields::build(const scene::ByNumbers& numbers) {
  delete page_;
  fields_.clear();
  section_ = nullptr;
  page_ = new QWidget;
  auto* column = new QVBoxLayout(page_);
  column->setContentsMargins(0, 0, 0, 0);
  const auto& kind = numbers.of();
  QStringList sections;
  for (const auto& f : kind.fields) {
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
  for (std::size_t i = 0; i < kind.fields.size(); ++i) {
    const auto& f = kind.fields[i];
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
}

void NumberFields::showSection() {
  if (!section_) return;
  for (std::size_t i = 0; i < fields_.size(); ++i)
    fields_[i]->setVisible(tr(shown_.of().fields[i].section) == section_->currentText());
}

}  // namespace hseam::app
