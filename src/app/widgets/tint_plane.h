#pragma once

#include "app/widgets/tack_editor.h"
#include "core/scene/adjustment.h"

namespace hseam::app {

/// The plane of tints with three tacks: shadows, midtones, highlights. Green–red across, blue–yellow upwards.
class TintPlane : public TackEditor {
  Q_OBJECT

 public:
  explicit TintPlane(QWidget* parent = nullptr);
  void setBalance(const scene::ColourBalance& balance);

 signals:
  void changing(const hseam::scene::ColourBalance& balance);
  void changed(const hseam::scene::ColourBalance& balance);

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool take(QPointF at) override;
  void moveTo(QPointF at) override;
  void setBack() override;
  void next() override;
  bool step(int x, int y, bool far) override;
  void tell(bool finished) override;

 private:
  QRectF field() const;
  QPointF toWidget(const scene::Tint& t) const;
  scene::Tint* tack(int i);
  void put(scene::Tint tint);
  scene::ColourBalance balance_;
  int chosen_ = 1;
};

}  // namespace hseam::app
