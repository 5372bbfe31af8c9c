#pragma once

#include "app/stations/place/set_in_place_page.h"
#include "app/stations/station.h"

namespace hseam::app {

class Place : public Station {
  Q_OBJECT

 public:
  explicit Place(Desk& desk);
  QString name() const override { return tr("Place"); }
  Instrument* instrument() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;

 private:
  SetInPlacePage* set_;
  Page* guides_;
};

}  // namespace hseam::app
