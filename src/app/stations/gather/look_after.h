#pragma once

#include "app/stations/page.h"

class QLabel;

namespace hseam::app {

/// The project's file: a copy, an archive with all sources, a slimmed copy with word of what it drops.
class LookAfter : public Page {
  Q_OBJECT

 public:
  explicit LookAfter(Desk& desk);
  /// Asks anew what slimming would drop.
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }

 private:
  QLabel* report_;
};

}  // namespace hseam::app
