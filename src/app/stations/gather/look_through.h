#pragma once

#include "app/contact/demo_camera.h"
#include "app/document/workspace.h"
#include "app/stations/gather/frame_work.h"
#include "app/stations/page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

class ContactSheet;

/// A folder of shots: looked through, rated, and the chosen ones brought into the scene.
class LookThrough : public Page {
  Q_OBJECT

 public:
  LookThrough(Desk& desk, Workspace& workspace, FrameWork& frames);
  void refresh() override;
  QString words() const override;
  QWidget* middle() override;
  ContactSheet& sheet() { return *sheet_; }
  void open(const QString& folder);
  DemoCamera& camera() { return camera_; }

 signals:
  void led(const QString& page);  // what was done is to be seen there

 private:
  void tell();
  void copyTo(const QString& folder);
  void turnCamera();
  Workspace& workspace_;
  FrameWork& frames_;
  DemoCamera camera_;
  ContactSheet* sheet_;
  QComboBox* only_;
  QLabel *where_, *told_;
  QPushButton *add_, *asFrames_, *copy_, *look_, *shoot_;
  std::vector<QPushButton*> ratings_;
};

}  // namespace hseam::app
