#pragma once

#include "app/stations/match/adjust.h"
#include "app/stations/station.h"

namespace hseam::app {

class Match : public Station {
  Q_OBJECT

 public:
  explicit Match(Desk& desk);
  QString name() const override { return tr("Match"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;

 private:
  bool hasConfined() const;
  AddAdjustment* adding_;
};

}  // namespace hseam::app
