#pragma once

#include "app/stations/page.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// Another background behind the active picture's subject, in one step: cut out, put behind it, and brought to it.
class AnotherBackground : public Page {
  Q_OBJECT

 public:
  explicit AnotherBackground(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void put();

  QComboBox* backgrounds_;  // pictures of the scene, their ids as data
  QCheckBox* bring_;
  QPushButton* put_;
  QLabel* outcome_;
};

}  // namespace hseam::app
