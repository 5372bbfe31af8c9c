#pragma once

#include <QPointF>
#include <functional>
#include <optional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// A drag from one place to another, px of the shown scene.
class ArrowTool : public Instrument {
 public:
  ArrowTool(std::function<void(QPointF from, QPointF to)> drawn, std::function<QString()> words)
      : drawn_(std::move(drawn)), words_(std::move(words)) {}
  void press(const Touch& touch) override { from_ = to_ = touch.at; }
  void move(const Touch& touch) override { to_ = touch.at; }
  void release(const Touch& touch) override;
  void cancel() override { from_.reset(); }
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return words_(); }

 private:
  std::function<void(QPointF, QPointF)> drawn_;
  std::function<QString()> words_;
  std::optional<QPointF> from_;
  QPointF to_;
};

}  // namespace hseam::app
