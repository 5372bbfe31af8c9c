#pragma once

#include <QFrame>

#include "app/stations/station.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace hseam::app {

/// The top of the bench: the next most useful step, or the work that is going on, with cancel.
class BenchHead : public QFrame {
  Q_OBJECT

 public:
  explicit BenchHead(Lane& jobs, QWidget* parent = nullptr);
  /// Does the shown step, as its button does.
  void act();
  void setStep(const NextStep& step);

 private:
  void showJob();
  void listWaiting(const std::vector<Lane::Entry>& entries);
  Lane& jobs_;
  NextStep step_;
  QLabel *what_, *why_;
  QPushButton *act_, *cancel_;
  QProgressBar* progress_;
  QWidget* waiting_;                 // a line for each piece of work that waits
  std::vector<quint64> waitingIds_;  // what the lines stand for
};

}  // namespace hseam::app
