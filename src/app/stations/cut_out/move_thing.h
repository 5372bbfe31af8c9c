#pragma once

#include "app/instruments/outline_tool.h"
#include "app/stations/page.h"

class QPushButton;

namespace hseam::app {

class ValueField;

/// What is selected, or cut out, is lifted off its picture with its shadow: the place is filled, and thing and shadow become
/// layers that are moved together. The picture itself stays as it is.
class MoveThing : public Page {
  Q_OBJECT

 public:
  explicit MoveThing(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &outline_; }
  void changeView(View& view) const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  /// The layer that was lifted last.
  scene::LayerId lifted() const { return lifted_; }

 private:
  void lift();
  /// What is lifted: the mask of a cut, or the selection; null if there is neither.
  image::TiledImage thing() const;

  OutlineTool outline_;
  QPolygonF shadow_;         // drawn round the shadow, px of the picture
  scene::LayerId shadowOf_;  // the layer it belongs to
  scene::LayerId lifted_;
  ValueField* wider_;
  QPushButton *lift_, *forget_;
};

}  // namespace hseam::app
