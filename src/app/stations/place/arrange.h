#pragma once

#include "app/stations/page.h"

#include "app/instruments/marks_tool.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The page that lines pictures up: by marked places, by their sides, at equal distances, and by looking at differences.
class Arrange : public Page {
  Q_OBJECT

 public:
  explicit Arrange(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return activePicture() ? &tool_ : nullptr; }
  void changeView(View& view) const override;
  /// True: the active layer is to be shown as its difference from what lies below.

 private:
  void take(const base::Result<scene::Edit>& edit);
  MarksTool tool_;
  QPushButton* match_;
  QLabel* told_;
  QCheckBox* differences_;
  scene::LayerId marked_;  // the layer that the marks were drawn for
};

}  // namespace hseam::app
