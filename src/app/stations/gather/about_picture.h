#pragma once

#include "app/stations/page.h"

#include "core/scene/scene.h"

class QFormLayout;

namespace hseam::app {

/// What the file of a picture layer says of itself: camera, lens, exposure, rights.
class AboutPicture : public Page {
  Q_OBJECT

 public:
  explicit AboutPicture(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  std::uint64_t shown_ = 0;  // stamp of the picture whose rows stand
  QFormLayout* rows_;
};

}  // namespace hseam::app
