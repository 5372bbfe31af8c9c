#pragma once

#include "app/stations/page.h"

class QComboBox;
class QPushButton;

namespace hseam::app {

/// What one layer has, given to the active one: its mask, or the adjustments that are confined to it.
class CarryOver : public Page {
  Q_OBJECT

 public:
  explicit CarryOver(Desk& desk);
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }

 private:
  const scene::Layer* from() const;
  void carryMask();
  void carryAdjustments();
  QComboBox* from_;
  QPushButton *mask_, *adjustments_;
};

}  // namespace hseam::app
