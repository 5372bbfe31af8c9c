#pragma once

#include <QWidget>

#include "app/widgets/histogram.h"
#include "core/scene/curve.h"

namespace hseam::app {

/// Curves over two histograms: of the tones as they are (filled) and of those below (line). One is in hand, a click on another
/// takes that. Click adds a point, drag moves it, dragging it out or Delete removes it, arrows nudge the chosen one.
class CurveEditor : public QWidget {
  Q_OBJECT

 public:
  explicit CurveEditor(QWidget* parent = nullptr);
  struct Line {
    scene::CurvePoints points;
    QColor colour;
  };
  /// All lines of the field, and the one in hand.
  void setCurves(const std::vector<Line>& lines, int inHand);
  void setHistograms(const Histogram& result, const Histogram& below);
  /// Dragging in the picture: takes the point at this tone, or makes one; moves it by a share of the range since then; ends.
  void grab(double tone);
  void lift(double by);
  void let();
  QSize sizeHint() const override { return {270, 190}; }

 signals:
  void changing(const hseam::scene::CurvePoints& points);
  void changed(const hseam::scene::CurvePoints& points);
  void lineAsked(int line);  // another is to be taken in hand

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
  /// A line that runs within reach of a place of the widget, of all but the one in hand; -1: none.
  int otherLineAt(QPointF at) const;
  double heightOf(const scene::CurvePoints& points, double x) const;

  std::vector<Line> lines_;
  int inHand_ = 0;
  scene::CurvePoints points_{{0, 0}, {1, 1}};  // of the one in hand
  int chosen_ = -1;
  bool dragging_ = false;
  double liftedFrom_ = 0;
  Histogram result_{}, below_{};
};

}  // namespace hseam::app
