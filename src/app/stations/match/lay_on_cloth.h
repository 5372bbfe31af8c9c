#pragma once

#include "app/stations/page.h"
#include "app/widgets/value_field.h"

class QLabel;
class QPushButton;

namespace hseam::app {

/// The active picture takes light and folds of what lies behind it, as a print on cloth does.
class LayOnCloth : public Page {
  Q_OBJECT

 public:
  explicit LayOnCloth(Desk& desk);
  void refresh() override;
  QString words() const override;

 private:
  void lay();

  ValueField *shading_, *depth_, *soft_;
  QPushButton* lay_;
  QLabel* outcome_;
};

}  // namespace hseam::app
