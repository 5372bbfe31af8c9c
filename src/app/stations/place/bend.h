#pragma once

#include "app/stations/page.h"

#include "app/instruments/warp_tool.h"

class QButtonGroup;
class QPushButton;

namespace hseam::app {

/// The page that bends a picture: onto a banner, round a corner, with a crease.
class Bend : public Page {
  Q_OBJECT

 public:
  explicit Bend(Desk& desk);
  Instrument* instrument() override { return tool_.kept() ? &tool_ : nullptr; }
  void refresh() override;
  QString words() const override;

 private:
  WarpTool tool_;
  QButtonGroup* ways_;
  QPushButton *split_, *straight_, *all_;
};

}  // namespace hseam::app
