#pragma once

#include "app/instruments/arrow_tool.h"
#include "app/instruments/brush.h"
#include "app/stations/page.h"
#include "app/stations/paint/strand_tips.h"
#include "app/widgets/tip_fields.h"

class QCheckBox;
class QComboBox;

namespace hseam::app {

/// The controls of mask painting, for any layer, with the brush they steer. Used by Cut out and Match.
class PaintMask : public Page {
  Q_OBJECT

 public:
  /// view: what the canvas shows, to know where the layer's pixels lie on it.
  PaintMask(Desk& desk, const QString& why, std::function<View()> view);
  Brush& brush() { return brush_; }
  /// What is in hand: the brush, or the arrow that extends hair.
  Instrument* instrument() override;
  void changeView(View& view) const override;
  bool maskAlone() const;
  void refresh() override;
  QString words() const override;
  /// What the brush does: "reveals and hides lamplighter".
  QString doing() const;

 signals:
  /// A layer was made whose place in the scene matters: painting it goes on there.
  void sceneAsked();

 private:
  std::optional<Brush::Target> target() const;
  /// The mask as it is, or all shown where there is none yet.
  image::TiledImage mask() const;
  void setMask(base::Result<image::TiledImage> coverage, const QString& how);

  void takeTip();
  void extend(QPointF from, QPointF to);

  std::function<View()> view_;
  Brush brush_;
  ArrowTool arrow_;
  bool extending_ = false;
  StrandTips* strands_;
  TipFields* tip_;
  ValueField* soften_;
  QComboBox* pressure_;
  QCheckBox *alone_, *on_;
};

}  // namespace hseam::app
