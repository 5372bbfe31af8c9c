#pragma once

#include "app/stations/page.h"
#include "core/store/shelf.h"

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
  bool onlyWhileOpen() const override { return true; }

 private:
  void put();

  std::vector<store::ShelfItem> shelf_;
  QComboBox* backgrounds_;  // pictures of the scene, their ids as data; items of the shelf, likewise
  QCheckBox* bring_;
  QPushButton* put_;
  QLabel* outcome_;
};

}  // namespace hseam::app
