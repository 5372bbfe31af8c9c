#pragma once

#include <QWidget>
#include <array>

#include "core/scene/curve.h"

namespace hseam::app {

/// One curve over two histograms: the layer's (filled) and the scene's below it (line). Click adds a point, drag moves it,
/// dragging it out or Delete removes it, arrows nudge the chosen one.
class CurveEditor : public QWidget {
  Q_OBJECT

 public:
  explicit CurveEditor(QWidget* parent = nullptr);
  void setCurve(const scene::CurvePoints& points);
  void setColour(const QColor& colour);
  using Histogram = std::array<float, 128>;  // 0..1
  void setHistograms(const Histogram& result, const Histogram& below);
  /// Dragging in the picture: takes the point at this tone, or makes one; moves it by a share of the range since then; ends.
  void grab(double tone);
  void lift(double by);
  void let();
  QSize sizeHint() const override { return {270, 190}; }

 signals:
  void changing(const hseam::scene::CurvePoints& points);
  void changed(const hseam::scene::CurvePoints& points);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF field() const { return QRectF(rect()).adjusted(8, 8, -8, -8); }
  QPointF toWidget(double x, double y) const;
  std::pair<double, double> fromWidget(QPointF p) const;
  void moveChosen(double x, double y);
  void removeChosen();
  scene::CurvePoints points_{{0, 0}, {1, 1}};
  int chosen_ = -1;
  bool dragging_ = false;
  double liftedFrom_ = 0;
  QColor colour_ = Qt::white;
  Histogram result_{}, below_{};
};

}  // namespace hseam::app
