#pragma once

#include "app/document/workspace.h"
#include "app/stations/station.h"

namespace hseam::app {

class Gather : public Station {
  Q_OBJECT

 public:
  Gather(Desk& desk, Workspace& workspace);
  QString name() const override { return tr("Gather"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;

 signals:
  void addAsked();
  void openAsked();

 private:
  Workspace& workspace_;
};

}  // namespace hseam::app
