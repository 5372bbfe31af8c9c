#pragma once

#include "app/stations/look_over/small_among.h"
#include "app/stations/page.h"

class QButtonGroup;
class QCheckBox;

namespace hseam::app {

/// Views that give a composite away; the picture itself is not changed. They stay on while other pages are open.
class OtherEyes : public Page {
  Q_OBJECT

 public:
  explicit OtherEyes(Desk& desk);
  void changeView(View& view) const override;
  void refresh() override { small_->refresh(); }
  bool mirrored() const;
  bool curtain() const;

 signals:
  void heatAsked(bool on);

 private:
  QButtonGroup* eyes_;
  QCheckBox *mirror_, *curtain_;
  SmallAmong* small_;
};

}  // namespace hseam::app
