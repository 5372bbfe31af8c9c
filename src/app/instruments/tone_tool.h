#pragma once

#include <functional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// Points at a tone in the picture and drags it lighter or darker; or just points, for taking a colour from there.
class ToneTool : public Instrument {
 public:
  struct Hooks {
    std::function<bool(const QPointF& at)> grab;  // px of the scene; false: nothing to grab
    std::function<void(double by)> lift;          // since the press, of the whole range, upwards
    std::function<void()> let;
    std::function<QString()> words;
  };
  explicit ToneTool(Hooks hooks) : hooks_(std::move(hooks)) {}
  void press(const Touch& touch) override {
    from_ = touch.at;
    held_ = hooks_.grab(touch.at);
  }
  void move(const Touch& touch) override {
    if (held_) hooks_.lift((from_.y() - touch.at.y()) * perPx_);
  }
  void release(const Touch& touch) override {
    move(touch);
    if (held_) hooks_.let();
    held_ = false;
  }
  void cancel() override {
    if (held_) hooks_.lift(0), hooks_.let();
    held_ = false;
  }
  // The way on the screen counts, whatever the zoom.
  void paintOver(QPainter&, const QTransform& toWidget) override { perPx_ = toWidget.m22() / kWholeRange; }
  QString doing() const override { return hooks_.words(); }

 private:
  static constexpr double kWholeRange = 400;  // px of the widget from black to white
  Hooks hooks_;
  QPointF from_;
  double perPx_ = 1 / kWholeRange;
  bool held_ = false;
};

}  // namespace hseam::app
