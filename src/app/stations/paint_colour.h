#pragma once

#include <QWidget>
#include <array>

#include "app/instruments/brush.h"
#include "app/instruments/pick_tool.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QPushButton;

namespace hseam::app {

/// The pleat that paints with colour on a layer of its own: rims, dust, touched-up shadows. Left lays colour down, right takes it
/// away. The colour can be taken from the scene.
class PaintColour : public QWidget {
  Q_OBJECT

 public:
  explicit PaintColour(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  QString words() const;
  Instrument* tool();

 signals:
  void changed();  // another instrument is in hand

 private:
  bool onPainting() const;
  void addLayer();
  void setColour(const std::array<double, 3>& colour);
  std::optional<Brush::Target> target();

  Desk& desk_;
  Brush brush_;
  PickTool pick_;
  bool picking_ = false;
  std::array<double, 3> colour_{0.85, 0.62, 0.35};
  QPushButton *shown_, *take_;
  QCheckBox* confined_;
  ValueField *size_, *hardness_, *strength_;
};

}  // namespace hseam::app
