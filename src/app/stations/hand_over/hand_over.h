#pragma once

#include "app/stations/hand_over/parcels.h"
#include "app/stations/hand_over/write_copy.h"
#include "app/stations/station.h"

namespace hseam::app {

class HandOver : public Station {
  Q_OBJECT

 public:
  explicit HandOver(Desk& desk);
  QString name() const override { return tr("Hand over"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  deliver::ExportOptions options() const { return copy_->options(); }
  void write(const QString& path) { copy_->write(path); }

 private:
  WriteCopy* copy_;
  Parcels* parcels_;
};

}  // namespace hseam::app
