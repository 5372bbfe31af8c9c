#pragma once

#include "app/stations/page.h"

class QLabel;
class QSpinBox;

namespace hseam::app {

/// How much of this computer the program takes: cores, memory for pixels and for small pictures. Kept for the next start.
class ComputerPage : public Page {
  Q_OBJECT

 public:
  explicit ComputerPage(Desk& desk);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }

 private:
  QSpinBox* field(const QString& name, const QString& tip, const QString& unit, int most);
  void keep();

  QSpinBox *threads_, *pixels_, *thumbnails_;
  QLabel* inUse_;
};

}  // namespace hseam::app
