#pragma once

#include "app/contact/thumbnail_loader.h"
#include "app/document/workspace.h"
#include "app/stations/page.h"
#include "core/store/shelf.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace hseam::app {

/// Places, skies and textures of one's own, kept across projects with what is known of each.
class ShelfPage : public Page {
  Q_OBJECT

 public:
  ShelfPage(Desk& desk, Workspace& workspace);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }

 private:
  void list();
  void showChosen();
  const store::ShelfItem* chosen() const;
  void keepActive();
  void put(const std::vector<std::byte>& bytes, const QString& ending);
  void bringIn();
  void takeOff();

  Workspace& workspace_;
  ThumbnailLoader thumbnails_;
  store::Shelf::Listed shelf_;
  QComboBox *shown_, *kind_;
  QLineEdit* name_;
  QListWidget* list_;
  QLabel* about_;
  QPushButton *keep_, *bring_, *off_;
};

}  // namespace hseam::app
