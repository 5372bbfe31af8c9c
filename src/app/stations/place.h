#pragma once

#include "app/instruments/set_in_place.h"
#include "app/stations/arrange.h"
#include "app/stations/bend.h"
#include "app/stations/canvas_size.h"
#include "app/stations/floor_pleat.h"
#include "app/stations/guides.h"
#include "app/stations/station.h"
#include "app/widgets/value_field.h"

class QDoubleSpinBox;

namespace hseam::app {

class Place : public Station {
  Q_OBJECT

 public:
  explicit Place(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Place"); }
  View view() const override;
  Instrument* instrument() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void refresh() override;
  void openFloor() { pleats_->open(floorPleat_); }

 private:
  QDoubleSpinBox* number(const QString& name, double low, double high, const QString& unit, double step,
                         double scene::Placement::*member, double factor);
  void change(const std::function<void(scene::Placement&)>& change, bool draftOnly);
  void fitCanvas(bool cover);

  struct Number {
    QDoubleSpinBox* box;
    double scene::Placement::*member;
    double factor;
  };
  std::vector<Number> numbers_;
  Pleat *placePleat_, *canvasPleat_, *guidesPleat_, *bendPleat_, *floorPleat_, *arrangePleat_;
  CanvasSize* canvas_;
  Guides* guides_;
  Bend* bend_;
  FloorPleat* floor_;
  Arrange* arrange_;
  SetInPlace setInPlace_;
};

}  // namespace hseam::app
