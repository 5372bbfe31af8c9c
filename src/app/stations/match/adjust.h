#pragma once

#include "app/stations/match/adjust_editors.h"
#include "app/stations/page.h"

namespace hseam::app {

/// A new adjustment in front of the active layer, confined to it or not.
class AddAdjustment : public Page {
  Q_OBJECT

 public:
  explicit AddAdjustment(Desk& desk);
  void add(const scene::Adjustment& adjustment, bool confined);

 signals:
  void added();
};

/// The controls of the active adjustment layer.
class Adjust : public Page {
  Q_OBJECT

 public:
  explicit Adjust(Desk& desk);
  QString words() const override;
  Instrument* instrument() override { return desk_.session.activeLayer() ? editors_->tool() : nullptr; }
  void refresh() override { editors_->refresh(); }

 private:
  AdjustEditors* editors_;
};

}  // namespace hseam::app
