#pragma once

#include "app/stations/page.h"
#include "core/tasks/shooting_list.h"

class QLabel;
class QPushButton;

namespace hseam::app {

/// From the planned scene to how its parts are to be photographed: shown, and written to be printed.
class ShootingListPage : public Page {
  Q_OBJECT

 public:
  explicit ShootingListPage(Desk& desk);
  void refresh() override;
  bool onlyWhileOpen() const override { return true; }

 private:
  void save();
  void write(const QString& path);

  tasks::ShootingList list_;
  QLabel* shown_;
  QPushButton* save_;
};

}  // namespace hseam::app
