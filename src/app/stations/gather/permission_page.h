#pragma once

#include "app/stations/page.h"

class QCheckBox;
class QLabel;
class QLineEdit;

namespace hseam::app {

/// What those who are seen in the active picture have allowed; asked for again when the work is handed over.
class PermissionPage : public Page {
  Q_OBJECT

 public:
  explicit PermissionPage(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void keep();
  void nobodyIn(const std::vector<scene::LayerId>& layers);

  QLineEdit *who_, *what_, *until_;
  QCheckBox *minors_, *nobody_;
  QLabel* wrong_;
};

}  // namespace hseam::app
