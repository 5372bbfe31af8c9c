#pragma once

#include "app/stations/page.h"

#include <array>

#include "app/instruments/brush.h"
#include "app/instruments/pick_tool.h"
#include "app/widgets/tip_fields.h"

class QCheckBox;
class QPushButton;

namespace hseam::app {

/// The page that paints with colour on a layer of its own: rims, dust, touched-up shadows. Left lays colour down, right takes it
/// away. The colour can be taken from the scene.
class PaintColour : public Page {
  Q_OBJECT

 public:
  explicit PaintColour(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override;

 private:
  bool onPainting() const;
  void addLayer();
  void setColour(const std::array<double, 3>& colour);
  std::optional<Brush::Target> target();

  Brush brush_;
  PickTool pick_;
  bool picking_ = false;
  std::array<double, 3> colour_{0.85, 0.62, 0.35};
  QPushButton *shown_, *take_;
  QCheckBox* confined_;
};

}  // namespace hseam::app
