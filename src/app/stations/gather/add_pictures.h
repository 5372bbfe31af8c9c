#pragma once

#include "app/document/workspace.h"
#include "app/stations/page.h"

class QListWidget;
class QPushButton;
class QSpinBox;

namespace hseam::app {

/// Photographs become layers.
class AddPictures : public Page {
  Q_OBJECT

 public:
  AddPictures(Desk& desk, Workspace& workspace);
  void refresh() override;

 signals:
  void addAsked();

 private:
  Workspace& workspace_;
  QPushButton* replace_;
};

/// Layers of another project, with their cuts, adjustments and shadows.
class BringLayers : public Page {
  Q_OBJECT

 public:
  BringLayers(Desk& desk, Workspace& workspace);

 private:
  Workspace& workspace_;
  void show(const std::shared_ptr<const Workspace::Offered>& offered);
  QListWidget* offeredList_;
  QPushButton* bring_;
  std::shared_ptr<const Workspace::Offered> offered_;
};

}  // namespace hseam::app
