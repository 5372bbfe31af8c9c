#pragma once

#include "app/document/workspace.h"
#include "app/stations/gather/frames_page.h"
#include "app/stations/station.h"

namespace hseam::app {

class Gather : public Station {
  Q_OBJECT

 public:
  Gather(Desk& desk, Workspace& workspace);
  QString name() const override { return tr("Gather"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;

  /// The next overlap of frames, while places are picked. False: there is none.
  bool stepOverlap(int by) { return currentPage() == picks_ && picks_->stepOverlap(by); }

 signals:
  /// Look at this place, px of the active picture.
  void placeAsked(QRectF place);
  void addAsked();
  void openAsked();

 private:
  Workspace& workspace_;
  PicksPage* picks_;
};

}  // namespace hseam::app
