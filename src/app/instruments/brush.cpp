#include "app/instruments/brush.h"

#include <algorithm>
#include <cmath>

namespace hseam::app {

Brush::Brush(Session& session, Messages& messages, std::function<std::optional<Target>()> target, std::function<QString()> words)
    : session_(session), messages_(messages), makeTarget_(std::move(target)), words_(std::move(words)) {}

std::optional<base::Point> Brush::inTarget(const QPointF& shown) const {
  const auto back = target_->toShown.inverse();
  if (!back) return std::nullopt;
  const base::Point at = back->map({shown.x(), shown.y()});
  return target_->unbend ? target_->unbend(at) : std::optional(at);
}

void Brush::hover(const QPointF&) {
  // The ring shows the tip at the layer's scale.
  if (const auto t = makeTarget_()) scale_ = std::sqrt(std::abs(t->toShown.determinant()));
}

void Brush::paintOver(QPainter&, const QTransform& toWidget) {
  zoom_ = std::max(1e-6, std::sqrt(std::abs(toWidget.determinant())));
}

void Brush::press(const Touch& touch) {
  target_ = makeTarget_();
  if (!target_) return;
  scale_ = std::sqrt(std::abs(target_->toShown.determinant()));
  right_ = touch.button == Qt::RightButton;
  paint::Tip used = tip;
  if (onScreen) used.sizePx = std::clamp(tip.sizePx / (zoom_ * std::max(1e-6, scale_)), 1.0, 2000.0);
  const std::uint8_t value = right_ ? target_->right : target_->left;
  stroke_ = makeDrawing ? makeDrawing(*target_, value)
                        : std::make_unique<paint::Stroke>(target_->picture, used, pressure, value, target_->flat);
  settled_ = target_->picture;
  strokeArea_ = {};
  if ((touch.modifiers & Qt::ShiftModifier) && lastEnd_) {
    Touch from = touch;
    from.at = *lastEnd_;
    extend(from);
  }
  extend(touch);
}

// Events are gathered until the window has time: a fast pointer costs one drawing for all that it sent meanwhile.
void Brush::extend(const Touch& touch) {
  lastEnd_ = touch.at;
  const auto at = inTarget(touch.at);
  if (!at) return;  // beside a bent picture nothing of it is met
  waiting_.push_back({*at, touch.pressure});
  if (waiting_.size() > 1) return;
  QMetaObject::invokeMethod(
      &later_, [this] { draw(); }, Qt::QueuedConnection);
}

void Brush::draw() {
  if (!stroke_ || waiting_.empty()) return;
  const auto changed = stroke_->to(waiting_, session_.executor());
  waiting_.clear();
  if (!changed.ok()) {
    emit messages_.refused(QString::fromStdString(changed.error().text()));
    return;
  }
  if (changed->empty()) return;
  settled_ = stroke_->image();
  strokeArea_ = strokeArea_.united(*changed);
  if (target_->settle) {
    auto settled = target_->settle({stroke_->image(), strokeArea_, *changed, right_});
    if (settled.ok()) settled_ = *settled;
  }
  session_.draft(target_->edit(settled_));
}

void Brush::move(const Touch& touch) {
  if (stroke_) extend(touch);
}

void Brush::release(const Touch&) {
  if (!stroke_) return;
  draw();
  stroke_.reset();
  if (settled_.stamp() == target_->picture.stamp()) {
    session_.draft(std::nullopt);
    return;
  }
  if (handOver) {
    session_.draft(std::nullopt);
    handOver(settled_);
  } else if (session_.apply(target_->edit(settled_)) && stroked) {
    stroked();
  }
}

void Brush::cancel() {
  stroke_.reset();
  waiting_.clear();
  lastEnd_.reset();
  session_.draft(std::nullopt);
}

bool Brush::turn(double notches, bool second) {
  if (second) {
    tip.hardness = std::clamp(tip.hardness + notches * 0.05, 0.0, 1.0);
  } else {
    tip.sizePx = std::clamp(tip.sizePx * std::pow(1.15, notches), 1.0, 2000.0);
  }
  if (tipChanged) tipChanged();
  return true;
}

}  // namespace hseam::app
