#pragma once

#include "app/document/workspace.h"
#include "app/stations/page.h"

class QLabel;

namespace hseam::app {

/// The project's file: a copy, an archive with all sources, a slimmed copy with word of what it drops.
class LookAfter : public Page {
  Q_OBJECT

 public:
  LookAfter(Desk& desk, Workspace& workspace);
  /// Asks anew what slimming would drop.
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }

 private:
  Workspace& workspace_;
  QLabel* report_;
};

}  // namespace hseam::app
