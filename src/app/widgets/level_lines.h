#pragma once

#include "app/widgets/histogram.h"
#include "app/widgets/tack_editor.h"
#include "core/scene/adjustment.h"

namespace hseam::app {

/// The darkest, the middle and the lightest tone as lines on the histogram, in L*; below it the darkest and the lightest that
/// come out. Drag them, or Space and the arrows.
class LevelLines : public TackEditor {
  Q_OBJECT

 public:
  explicit LevelLines(QWidget* parent = nullptr);
  void setLevels(const scene::Levels& levels);
  /// Of L*.
  void setHistograms(const Histogram& now, const Histogram& below);

 signals:
  void changing(const hseam::scene::Levels& levels);
  void changed(const hseam::scene::Levels& levels);

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool take(QPointF at) override;
  void moveTo(QPointF at) override;
  void setBack() override;
  void next() override;
  bool step(int x, int y, bool far) override;
  void tell(bool finished) override;

 private:
  enum Line { kBlack, kMiddle, kWhite, kDarkest, kLightest, kLines };
  QRectF field() const;
  QRectF strip() const;
  double lightnessOf(Line line) const;
  void put(Line line, double lightness);
  void tellValue();

  scene::Levels levels_;
  Histogram now_{}, below_{};
  Line chosen_ = kBlack;
};

}  // namespace hseam::app
