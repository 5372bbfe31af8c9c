#pragma once

#include <QProcess>
#include <QTimer>

#include "app/stations/page.h"

class QComboBox;
class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace hseam::app {

/// The same done to many files, by hseam in a process of its own: it goes on when the window is closed, and a list that was ended
/// goes on where it was.
class ManyFiles : public Page {
  Q_OBJECT

 public:
  explicit ManyFiles(Desk& desk);
  ~ManyFiles() override;
  QString words() const override;
  /// Takes files to do it to; folders give the pictures in them.
  void take(const QStringList& paths);
  /// Writes the list into the folder and begins; of a folder that has one, the rest.
  void begin(const QString& folder);

 private:
  QByteArray listFor() const;
  void look();
  void show();
  QStringList files_;
  QString list_;  // path of the list that is worked off; empty: none
  int all_ = 0, ended_ = 0, failed_ = 0;
  bool stopped_ = false;  // by hand
  QProcess* process_ = nullptr;
  QTimer timer_;
  QComboBox* what_;
  QLabel *chosen_, *told_;
  QPushButton *start_, *stop_;
  QProgressBar* bar_;
  QListWidget* failures_;
};

}  // namespace hseam::app
