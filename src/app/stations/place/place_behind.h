#pragma once

#include "app/stations/page.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// Another place behind the active picture's subject, in one step: cut out, the place behind it, and brought to it.
class PlaceBehind : public Page {
  Q_OBJECT

 public:
  explicit PlaceBehind(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void put();

  QComboBox* places_;  // pictures of the scene, their ids as data
  QCheckBox* bring_;
  QPushButton* put_;
  QLabel* outcome_;
};

}  // namespace hseam::app
