#pragma once

#include "app/stations/page.h"

class QListWidget;
class QPushButton;
class QSpinBox;

namespace hseam::app {

/// Photographs become layers.
class AddPictures : public Page {
  Q_OBJECT

 public:
  explicit AddPictures(Desk& desk);
  void refresh() override;

 signals:
  void addAsked();

 private:
  QPushButton* replace_;
};

/// Layers of another project, with their cuts, adjustments and shadows.
class BringLayers : public Page {
  Q_OBJECT

 public:
  explicit BringLayers(Desk& desk);

 private:
  void show(const std::shared_ptr<const Desk::Offered>& offered);
  QListWidget* offeredList_;
  QPushButton* bring_;
  std::shared_ptr<const Desk::Offered> offered_;
};

}  // namespace hseam::app
