#pragma once

#include <QFrame>
#include <functional>
#include <vector>

#include "app/document/session.h"

class QLabel;
class QPushButton;

namespace hseam::app {

/// The main job in six short steps, in a strip under the canvas. A step that has been done is ticked by itself.
class FirstSteps : public QFrame {
  Q_OBJECT

 public:
  explicit FirstSteps(Session& session, QWidget* parent = nullptr);
  /// From the first step that is not done.
  void begin();
  void end();
  int step() const { return step_; }
  /// True until the user has put the steps away once.
  static bool wanted();

 signals:
  /// Leads to the place where the step is done: station, and the id of its page.
  void ledTo(int station, const QString& page);

 private:
  struct Step {
    QString what, how;
    int station;
    const char* page;
    std::function<bool(const scene::Scene&)> done;
  };
  void show(int step);
  void look();
  Session& session_;
  std::vector<Step> steps_;
  int step_ = 0;
  QLabel *count_, *what_;
  QPushButton *lead_, *next_;
};

}  // namespace hseam::app
