// What the window does when somebody comes back to it, or stays too long.

#include "app/main_window.h"
#include "app/stations/look_over/look_over.h"

namespace hseam::app {

void MainWindow::watchRest() {
  constexpr int kMomentMs = 2500;
  moment_.setSingleShot(true);
  moment_.setInterval(kMomentMs);
  connect(&moment_, &QTimer::timeout, this, [this] { refreshSoon(kScene); });
  connect(&lookOver_->freshEyes(), &FreshEyes::lookAnew, this, [this] {
    moment_.start();
    refreshSoon(kScene);
  });
  connect(&rest_, &Rest::cameBack, this, [this](int minutes) {
    if (desk_.session.scene().layers.empty()) return;
    moment_.start();
    refreshSoon(kScene);
    tell(tr("%1 minutes away: it is mirrored for a moment, to be seen anew. %2")
             .arg(minutes)
             .arg(lookOver_->freshEyes().sinceLastVisit()),
         false);
  });
  connect(&rest_, &Rest::longAtIt, this, [this](int minutes) {
    tell(tr("%1 minutes at it: eyes get used to a picture. A short pause, and you will see more. (Look over, Fresh eyes, stops "
            "these words.)")
             .arg(minutes),
         false);
  });
}

}  // namespace hseam::app
