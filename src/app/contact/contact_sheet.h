#pragma once

#include <QWidget>

#include "app/contact/folder_model.h"

class QListView;
class QStackedLayout;

namespace hseam::app {

class PicturePanes;

/// A folder of pictures to look through: small ones, or one to four that fill the window. Plus keeps, full stop says perhaps,
/// minus puts out, Backspace takes that back; Return looks at what is chosen.
class ContactSheet : public QWidget {
  Q_OBJECT

 public:
  explicit ContactSheet(QWidget* parent = nullptr);
  FolderModel& model() { return model_; }
  QListView& list() { return *list_; }
  PicturePanes& panes() { return *panes_; }
  /// Paths of what is chosen, in the folder's order; all that are shown, if none is.
  QStringList chosen() const;
  bool looksAtLarge() const;
  void look();
  void back();
  void rate(image::Rating rating);

 signals:
  void refused(const QString& sentence);
  void changed();  // what is chosen or looked at

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void step(int by);
  FolderModel model_;
  QListView* list_;
  PicturePanes* panes_;
  QStackedLayout* stack_;
};

}  // namespace hseam::app
