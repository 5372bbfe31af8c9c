#pragma once

#include "app/stations/page.h"

class QPushButton;

namespace hseam::app {

class ValueField;

/// What is selected disappears: its surroundings go on over it, on a layer of their own. The picture itself stays as it is.
class TakeOut : public Page {
  Q_OBJECT

 public:
  explicit TakeOut(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void fill(std::uint32_t seed);
  /// The active layer, or the picture under it if the active one is what was filled last.
  const scene::Layer* filledFrom() const;

  ValueField* wider_;
  QPushButton *fill_, *another_;
  scene::LayerId made_, madeFrom_;  // the last fill and its picture
  std::uint32_t seed_ = 1;
};

}  // namespace hseam::app
