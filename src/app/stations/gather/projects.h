#pragma once

#include "app/stations/page.h"

class QSpinBox;

namespace hseam::app {

/// An empty canvas.
class NewScene : public Page {
  Q_OBJECT

 public:
  explicit NewScene(Desk& desk);
  QString words() const override;
  void refresh() override;

 private:
  QSpinBox *width_, *height_;
};

/// Scenes that were kept, and untitled ones that a program left behind.
class OpenProject : public Page {
  Q_OBJECT

 public:
  explicit OpenProject(Desk& desk);
  void refresh() override { listRecents(); }

 signals:
  void openAsked();

 private:
  void listRecents();
  QWidget* recents_;
};

}  // namespace hseam::app
