#pragma once

#include <QWidget>

#include "app/document/desk.h"

class QLabel;

namespace hseam::app {

/// The project's file: a copy, an archive with all sources, a slimmed copy with word of what it drops.
class LookAfter : public QWidget {
  Q_OBJECT

 public:
  explicit LookAfter(Desk& desk, QWidget* parent = nullptr);
  /// Asks anew what slimming would drop.
  void refresh();

 private:
  Desk& desk_;
  QLabel* report_;
};

}  // namespace hseam::app
