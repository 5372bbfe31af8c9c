#pragma once

#include "app/document/workspace.h"
#include "app/stations/page.h"

class QSpinBox;

namespace hseam::app {

/// An empty canvas.
class NewScene : public Page {
  Q_OBJECT

 public:
  NewScene(Desk& desk, Workspace& workspace);
  QString words() const override;
  void refresh() override;

 private:
  Workspace& workspace_;
  QSpinBox *width_, *height_;
};

/// Scenes that were kept, and untitled ones that a program left behind.
class OpenProject : public Page {
  Q_OBJECT

 public:
  OpenProject(Desk& desk, Workspace& workspace);
  void refresh() override { listRecents(); }

 signals:
  void openAsked();

 private:
  Workspace& workspace_;
  void listRecents();
  QWidget* recents_;
};

}  // namespace hseam::app
