#pragma once

#include <QWidget>
#include <optional>

#include "core/findings/numbers.h"

namespace hseam::app {

/// A subject against what it is set into: tones, colours and grain, drawn beside each other. The subject solid, the scene dashed
/// or hollow, so that it does not rest on colour.
class NumbersBeside : public QWidget {
  Q_OBJECT

 public:
  explicit NumbersBeside(QWidget* parent = nullptr);
  /// Nothing: there is nothing to compare.
  void setNumbers(const std::optional<findings::LayerNumbers>& numbers, const QString& name);
  QSize sizeHint() const override { return {260, 150}; }
  QSize minimumSizeHint() const override { return {200, 150}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintTones(QPainter& p, const QRectF& at) const;
  void paintColours(QPainter& p, const QRectF& at) const;
  void paintGrain(QPainter& p, const QRectF& at) const;
  std::optional<findings::LayerNumbers> numbers_;
};

}  // namespace hseam::app
