#pragma once

#include "app/stations/page.h"

#include <memory>

#include "app/widgets/value_field.h"
#include "core/image/display_profile.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The picture as it will be printed: its colours by way of a printer's profile, its size at a number of dots per inch.
class OnPaper : public Page {
  Q_OBJECT

 public:
  explicit OnPaper(Desk& desk);
  /// What is shown goes through this; null: no proof is on.
  const std::shared_ptr<const image::DisplayTransform>& transform() const { return transform_; }
  /// The monitor's own profile; empty: sRGB.
  void setMonitor(const QString& profile);
  /// False, with a word to the user: the file is no profile that can be proofed. Empty: none.
  bool choose(const QString& path);
  void refresh() override;
  QString words() const override;

 signals:
  void zoomAsked(double zoom);  // px of the screen for one of the scene

 private:
  void make();
  QString monitorPath_;
  std::vector<std::byte> device_;
  QString deviceName_;
  std::shared_ptr<const image::DisplayTransform> transform_;
  QLabel *name_, *size_;
  QComboBox* intent_;
  QCheckBox *paper_, *warn_;
  ValueField *dpi_, *screen_, *away_;
};

}  // namespace hseam::app
