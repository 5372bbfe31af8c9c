#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "core/deliver/weights.h"

namespace hseam::app {

/// What a file weighs against how like the picture it stays, and below it the place that suffers most, before and after. A click
/// beside a point or an arrow key chooses it.
class WeightView : public QWidget {
  Q_OBJECT

 public:
  explicit WeightView(QWidget* parent = nullptr);
  /// In the order of quality.
  void show(std::vector<deliver::Trial> trials);
  void choose(int trial);
  int chosen() const { return chosen_; }
  /// Drawn as a line; nothing: none.
  void setLimit(std::optional<double> bytes);
  QPointF placeOf(int trial) const;  // px of the widget

 signals:
  void chosenByHand(int trial);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF chart() const;
  QPointF at(double bytes, double likeness) const;
  void paintChart(QPainter& p) const;
  void paintCrops(QPainter& p) const;
  std::vector<deliver::Trial> trials_;
  std::optional<double> limit_;
  int chosen_ = 0;
};

/// "312 kB" of 1000 bytes.
QString inKb(std::int64_t bytes);

}  // namespace hseam::app
