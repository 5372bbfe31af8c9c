#pragma once

#include "app/stations/about_picture.h"
#include "app/stations/look_after.h"
#include "app/stations/station.h"

class QListWidget;
class QSpinBox;

namespace hseam::app {

class Gather : public Station {
  Q_OBJECT

 public:
  explicit Gather(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Gather"); }
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void refresh() override;

 signals:
  void addAsked();
  void openAsked();

 private:
  void listRecents();
  void show(const std::shared_ptr<const Desk::Offered>& offered);
  QSpinBox *width_, *height_;
  QWidget* recents_;
  QPushButton* replace_;
  AboutPicture* about_;
  Pleat* lookAfterPleat_;
  LookAfter* lookAfter_;
  QListWidget* offeredList_;
  QPushButton* bring_;
  std::shared_ptr<const Desk::Offered> offered_;
};

}  // namespace hseam::app
