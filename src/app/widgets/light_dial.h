#pragma once

#include <QWidget>

#include "core/scene/content/light.h"

namespace hseam::app {

/// Where light comes from, seen from above: the subject in the middle, the camera at the foot. Near the middle light is high, at
/// the rim it is level. Drag, or arrows.
class LightDial : public QWidget {
  Q_OBJECT

 public:
  explicit LightDial(QWidget* parent = nullptr);
  void setLight(const scene::LightFrom& light);

 signals:
  void changing(const hseam::scene::LightFrom& light);
  void changed(const hseam::scene::LightFrom& light);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QPointF middle() const { return QRectF(rect()).center(); }
  double radius() const { return height() / 2.0 - 8; }
  QPointF placeOf(const scene::LightFrom& light) const;
  void moveTo(const QPointF& at);
  scene::LightFrom light_;
  bool dragging_ = false;
};

}  // namespace hseam::app
