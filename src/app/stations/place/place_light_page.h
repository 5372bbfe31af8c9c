#pragma once

#include "app/stations/page.h"

#include "app/instruments/place_light_tool.h"
#include "app/widgets/light_dial.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The light of the place: shown by one shadow that is in the picture, whose darkness and colour are measured; or set by hand; or
/// none that casts shadows.
class PlaceLightPage : public Page {
  Q_OBJECT

 public:
  explicit PlaceLightPage(Desk& desk);
  Instrument* instrument() override { return &tool_; }
  void refresh() override;
  QString words() const override;

 private:
  scene::PlaceLight now() const;
  void set(const scene::PlaceLight& light, bool keep);
  void forget();
  /// How dark the shown shadow is, and its colour, are measured on the floor.
  scene::PlaceLight shown(const scene::SeenShadow& seen);
  QString told() const;

  PlaceLightTool tool_;
  QLabel* told_;
  LightDial* dial_;
  ValueField *size_, *density_;
  QCheckBox* none_;
  QPushButton* forget_;
};

}  // namespace hseam::app
