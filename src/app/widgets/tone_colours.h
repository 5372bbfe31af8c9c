#pragma once

#include <QWidget>

#include "app/widgets/histogram.h"
#include "core/scene/adjustment.h"

namespace hseam::app {

/// The histogram with a line for each tone that has a colour of its own. A click adds one, a drag moves it, the right button or
/// Delete takes it away, a double click or Return asks for the colour, arrows nudge, Space chooses the next.
class ToneColours : public QWidget {
  Q_OBJECT

 public:
  explicit ToneColours(QWidget* parent = nullptr);
  void setColours(const scene::TonesToColours& colours);
  /// Of luma, of what lies below.
  void setHistogram(const Histogram& below);

 signals:
  void changing(const hseam::scene::TonesToColours& colours);
  void changed(const hseam::scene::TonesToColours& colours);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF field() const;
  double toneAt(double x) const;
  double xOf(double tone) const;
  int tackAt(QPointF at) const;
  bool move(double tone);
  bool remove();
  void askColour();
  scene::TonesToColours colours_;
  Histogram below_{};
  int chosen_ = 0;
  bool dragging_ = false;
};

}  // namespace hseam::app
