#pragma once

#include <QWidget>

#include "core/scene/adjustment.h"

namespace hseam::app {

/// The plane of tints with three tacks: shadows, midtones, highlights. Green–red across, blue–yellow upwards.
class TintPlane : public QWidget {
  Q_OBJECT

 public:
  explicit TintPlane(QWidget* parent = nullptr);
  void setBalance(const scene::ColourBalance& balance);

 signals:
  void changing(const hseam::scene::ColourBalance& balance);
  void changed(const hseam::scene::ColourBalance& balance);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QRectF field() const;
  QPointF toWidget(const scene::Tint& t) const;
  scene::Tint* tack(int i);
  scene::ColourBalance balance_;
  int chosen_ = 1;
  bool dragging_ = false;
};

}  // namespace hseam::app
