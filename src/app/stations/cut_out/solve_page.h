#pragma once

#include "app/stations/page.h"

class QCheckBox;

namespace hseam::app {

/// Solving the band: alpha and the subject's own colours.
class SolvePage : public Page {
  Q_OBJECT

 public:
  explicit SolvePage(Desk& desk);
  QString words() const override;
  void changeView(View& view) const override;
  void refresh() override;
  void solve();

 signals:
  void solved();

 private:
  QCheckBox *original_, *clean_;
  double took_ = 0;  // s; 0: not solved here
};

}  // namespace hseam::app
