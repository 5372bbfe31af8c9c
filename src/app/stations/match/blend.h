#pragma once

#include "app/stations/page.h"
#include "app/widgets/tone_patch.h"
#include "app/widgets/value_field.h"

class QComboBox;

namespace hseam::app {

/// How the active layer meets what lies below it: mode, opacity, and by brightness.
class Blend : public Page {
  Q_OBJECT

 public:
  explicit Blend(Desk& desk);
  QString words() const override;
  void refresh() override;

 private:
  QComboBox* mode_;
  ValueField* opacity_;
  TonePatch* tones_;
};

}  // namespace hseam::app
