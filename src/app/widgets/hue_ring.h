#pragma once

#include "app/widgets/tack_editor.h"

#include <vector>

namespace hseam::app {

/// The ring of hues with a tack for each hue: how far out it stands is how much. Drag a tack, or Space and the arrows.
class HueRing : public TackEditor {
  Q_OBJECT

 public:
  struct Tack {
    QString name;  // "reds"
    double hue;    // degrees: 0 red, 120 green, 240 blue
    double low, high, initial, value;
    QString unit;
    double shownTimes = 1;
  };
  explicit HueRing(QWidget* parent = nullptr);
  /// what: "strength of the hues".
  void setTacks(const QString& what, const std::vector<Tack>& tacks);

 signals:
  void changing(int tack, double value);
  void changed(int tack, double value);

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool take(QPointF at) override;
  void moveTo(QPointF at) override;
  void setBack() override;
  void next() override;
  bool step(int x, int y, bool far) override;
  void tell(bool finished) override;

 private:
  QPointF centre() const;
  QPointF placeOf(const Tack& tack) const;
  void put(double value);
  void tellValue();
  std::vector<Tack> tacks_;
  int chosen_ = 0;
};

}  // namespace hseam::app
