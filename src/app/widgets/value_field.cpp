#include "app/widgets/value_field.h"

#include <QDoubleSpinBox>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>
#include <algorithm>
#include <cmath>

namespace hseam::app {
namespace {
constexpr int kSteps = 1000;
}

ValueField::ValueField(const QString& name, const Range& range, const QString& tip, QWidget* parent)
    : QWidget(parent),
      range_(range),
      label_(new QLabel(name, this)),
      slider_(new QSlider(Qt::Horizontal, this)),
      box_(new QDoubleSpinBox(this)) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  label_->setMinimumWidth(74);
  label_->setProperty("quiet", true);
  label_->setToolTip(tr("Double click: back to %1").arg(range.initial));
  label_->installEventFilter(this);
  slider_->setRange(0, kSteps);
  slider_->setToolTip(tip);
  slider_->setAccessibleName(name);
  box_->setRange(range.low, range.high);
  box_->setSpecialValueText(range.atLow);
  box_->setDecimals(range.decimals);
  box_->setSuffix(range.unit.isEmpty() ? QString() : QStringLiteral(" ") + range.unit);
  box_->setSingleStep(range.decimals > 1 ? 0.01 : (range.decimals == 1 ? 0.1 : 1));
  box_->setKeyboardTracking(false);
  box_->setFixedWidth(84);
  box_->setAlignment(Qt::AlignRight);
  box_->setToolTip(tip);
  box_->setAccessibleName(name);
  row->addWidget(label_);
  row->addWidget(slider_, 1);
  row->addWidget(box_);
  setValue(range.initial);
  connect(slider_, &QSlider::valueChanged, this, [this](int position) {
    const QSignalBlocker quiet(box_);
    box_->setValue(fromSlider(position));
    if (slider_->isSliderDown()) {
      emit changing(value());
    } else {
      emit changed(value());
    }
  });
  connect(slider_, &QSlider::sliderReleased, this, [this] { emit changed(value()); });
  connect(box_, &QDoubleSpinBox::valueChanged, this, [this](double v) {
    const QSignalBlocker quiet(slider_);
    slider_->setValue(toSlider(v));
    emit changed(v);
  });
}

double ValueField::value() const {
  return box_->value();
}

void ValueField::setValue(double v) {
  // A value that is being dragged is not pulled from under the pointer.
  if (slider_->isSliderDown()) return;
  const QSignalBlocker a(slider_), b(box_);
  box_->setValue(v);
  slider_->setValue(toSlider(v));
}

void ValueField::step(double notches) {
  const double v = range_.even ? value() + notches * (range_.high - range_.low) / 40 : value() * std::pow(1.15, notches);
  box_->setValue(std::clamp(v, range_.low, range_.high));
}

bool ValueField::eventFilter(QObject* watched, QEvent* event) {
  if (watched == label_ && event->type() == QEvent::MouseButtonDblClick) {
    box_->setValue(range_.initial);
    return true;
  }
  return QWidget::eventFilter(watched, event);
}

int ValueField::toSlider(double v) const {
  const double t =
      range_.even ? (v - range_.low) / (range_.high - range_.low) : std::log(v / range_.low) / std::log(range_.high / range_.low);
  return int(std::lround(std::clamp(t, 0.0, 1.0) * kSteps));
}

double ValueField::fromSlider(int position) const {
  const double t = double(position) / kSteps;
  return range_.even ? range_.low + t * (range_.high - range_.low) : range_.low * std::pow(range_.high / range_.low, t);
}

}  // namespace hseam::app
