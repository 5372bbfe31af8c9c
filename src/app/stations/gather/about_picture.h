#pragma once

#include "app/stations/page.h"

#include "core/scene/scene.h"

class QFormLayout;

namespace hseam::app {

/// What the file of a picture layer says of itself (camera, lens, exposure, rights), and what is measured of its pixels.
class AboutPicture : public Page {
  Q_OBJECT

 public:
  explicit AboutPicture(Desk& desk);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }

 private:
  void addRow(const QString& name, const QString& value, const QString& tip);

  std::pair<std::uint64_t, std::uint64_t> shown_;  // stamps of the picture whose rows stand, and of its mask
  QFormLayout* rows_;
};

}  // namespace hseam::app
