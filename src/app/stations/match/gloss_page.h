#pragma once

#include "app/instruments/outline_tool.h"
#include "app/stations/page.h"

class QComboBox;
class QPushButton;

namespace hseam::app {

class ValueField;

/// What shines on the active picture, drawn round, mirrors the place that it stands in.
class GlossPage : public Page {
  Q_OBJECT

 public:
  explicit GlossPage(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &outline_; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  void mirror();

  OutlineTool outline_;
  QPolygonF part_;                // px of the scene
  scene::LayerId partOf_, made_;  // the layer it was drawn on; the gloss that was made of it
  QComboBox* way_;
  ValueField *wide_, *rough_, *strength_;
  QPushButton* mirror_;
};

}  // namespace hseam::app
