#pragma once

#include "app/stations/station.h"

namespace hseam::app {

class Gather : public Station {
  Q_OBJECT

 public:
  explicit Gather(Desk& desk);
  QString name() const override { return tr("Gather"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;

 signals:
  void addAsked();
  void openAsked();
};

}  // namespace hseam::app
