#pragma once

#include "app/stations/page.h"
#include "core/tasks/fits.h"

class QLabel;

namespace hseam::app {

/// How well the other pictures of the scene, and the places of the shelf, fit the active one, the best first, with reasons. When
/// a second picture comes in, the first reason is said at once.
class FitPage : public Page {
  Q_OBJECT

 public:
  explicit FitPage(Desk& desk);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }

 private:
  void compare();
  void sayOfNew();

  QLabel *subject_, *ranking_;
  scene::LayerId askedOf_;              // the one that was compared last
  std::vector<scene::LayerRef> asked_;  // the scene's layers then
  int pictures_ = 0;                    // of the scene, when it was looked at last
  QString best_;
};

}  // namespace hseam::app
