#pragma once

#include "app/stations/page.h"

#include <memory>

#include "core/image/display_profile.h"

class QLabel;

namespace hseam::app {

/// Which colour profile the monitor has; kept in the settings. Without one it counts as sRGB.
class Monitor : public Page {
  Q_OBJECT

 public:
  explicit Monitor(Desk& desk);
  const std::shared_ptr<const image::DisplayTransform>& transform() const { return transform_; }
  /// The profile's file; empty: none.
  const QString& path() const { return path_; }
  /// Empty: none. False, with a word to the user: the file is no profile of a monitor.
  bool choose(const QString& path);

 private:
  QLabel* name_;
  QString path_;
  std::shared_ptr<const image::DisplayTransform> transform_;
};

}  // namespace hseam::app
