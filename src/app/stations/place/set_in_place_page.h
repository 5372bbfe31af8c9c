#pragma once

#include "app/instruments/set_in_place.h"
#include "app/stations/page.h"

class QDoubleSpinBox;

namespace hseam::app {

/// Moves, scales, turns and flips the active picture, by numbers and on the picture.
class SetInPlacePage : public Page {
  Q_OBJECT

 public:
  explicit SetInPlacePage(Desk& desk);
  QString words() const override;
  Instrument* instrument() override { return activePicture() ? &tool_ : nullptr; }
  void refresh() override;
  SetInPlace& tool() { return tool_; }

 private:
  QDoubleSpinBox* number(const QString& name, double low, double high, const QString& unit, double step,
                         double scene::Placement::*member, double factor);
  void change(const std::function<void(scene::Placement&)>& change, bool draftOnly);
  void fitCanvas(bool cover);

  struct Number {
    QDoubleSpinBox* box;
    double scene::Placement::*member;
    double factor;
  };
  std::vector<Number> numbers_;
  SetInPlace tool_;
};

}  // namespace hseam::app
