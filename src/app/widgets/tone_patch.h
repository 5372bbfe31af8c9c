#pragma once

#include <QWidget>

#include "core/scene/mask_numbers.h"

namespace hseam::app {

/// Where a layer shows by brightness, on one square: its own tones across, dark to light, those below it upwards. The patch is
/// where it shows; its soft rim is where it fades. Drag a side to move it, the dotted line within to soften it. With keys: Space
/// chooses the next side, arrows move it, with Shift its softness.
class TonePatch : public QWidget {
  Q_OBJECT

 public:
  explicit TonePatch(QWidget* parent = nullptr);
  void setShows(const scene::ToneRange& shows);

 signals:
  void changing(const hseam::scene::ToneRange& shows);
  void changed(const hseam::scene::ToneRange& shows);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  // 0..3: own tones, 4..7: tones below, each rising.
  QRectF square() const;
  double at(int line) const;
  QPointF toneAt(const QPointF& widget) const;
  void move(int line, double tone);
  int nearest(const QPointF& widget) const;
  scene::ToneRange shows_;
  int chosen_ = 0;
  int dragged_ = -1;
};

}  // namespace hseam::app
