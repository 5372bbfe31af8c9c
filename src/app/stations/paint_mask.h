#pragma once

#include <QWidget>

#include "app/instruments/arrow_tool.h"
#include "app/instruments/brush.h"
#include "app/stations/station.h"
#include "app/stations/strand_tips.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

/// The controls of mask painting, for any layer, with the brush they steer. Used by Cut out and Match.
class PaintMask : public QWidget {
  Q_OBJECT

 public:
  /// view: what the canvas shows, to know where the layer's pixels lie on it.
  PaintMask(Desk& desk, std::function<View()> view, QWidget* parent = nullptr);
  Brush& brush() { return brush_; }
  /// What is in hand: the brush, or the arrow that extends hair.
  Instrument& tool() { return extending_ ? static_cast<Instrument&>(arrow_) : brush_; }
  bool maskAlone() const;
  void refresh();
  QString words() const;

 signals:
  void changed();
  /// A layer was made whose place in the scene matters: painting it goes on there.
  void sceneAsked();

 private:
  std::optional<Brush::Target> target() const;
  /// The mask as it is, or all shown where there is none yet.
  image::TiledImage mask() const;
  void setMask(base::Result<image::TiledImage> coverage, const QString& how);

  void takeTip();
  void extend(QPointF from, QPointF to);

  Desk& desk_;
  std::function<View()> view_;
  Brush brush_;
  ArrowTool arrow_;
  bool extending_ = false;
  StrandTips* strands_;
  QWidget* roundFields_;
  ValueField *size_, *hardness_, *strength_, *soften_;
  QComboBox* pressure_;
  QCheckBox *alone_, *on_;
};

}  // namespace hseam::app
