#pragma once

#include <QMainWindow>
#include <QTimer>
#include <vector>

#include "app/canvas/canvas.h"
#include "app/document/rest.h"
#include "app/document/workspace.h"
#include "app/ribbon/seam_ribbon.h"
#include "app/stations/station.h"
#include "app/theme/theme.h"

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace hseam::app {

class BenchHead;
class CutOut;
class FirstSteps;
class Gather;
class HandOver;
class Keys;
class LookOver;
class Match;
class Sheet;

/// Layout and wiring.
class MainWindow : public QMainWindow {
  Q_OBJECT

 public:
  explicit MainWindow(QWidget* parent = nullptr);
  Desk& desk() { return desk_; }
  Workspace& workspace() { return workspace_; }
  Canvas& canvas() { return *canvas_; }
  Rest& rest() { return rest_; }
  Canvas& besideCanvas() { return *beside_; }
  Station& station(int i) { return *stations_[std::size_t(i)]; }
  int currentStation() const { return runOfWork_->current(); }
  /// How often the open station was refreshed so far.
  int refreshes() const { return refreshes_; }
  void goTo(int station);
  FirstSteps& firstSteps() { return *firstSteps_; }
  SeamRibbon& ribbon() { return *ribbon_; }
  Keys& keys() { return *keys_; }
  void setLook(theme::Look look);

 public slots:
  void askForPictures();
  void askForProject();
  void askSaveAs();

 protected:
  void closeEvent(QCloseEvent* event) override;

 private:
  QWidget* buildTop();
  QWidget* buildStatus();
  void buildKeys();
  /// What is out of date. Gathered, and shown once when the events that wait are done.
  enum Due { kScene = 1, kWords = 2, kTabs = 4 };
  void refreshSoon(int due);
  void refreshNow(int due);
  void refreshScene();  // the shown scene or the view has changed
  void wireRibbon();
  void refreshRibbon(const View& view);
  std::vector<SeamRibbon::Found> findingsOnEdge() const;
  QPointF shownFromRibbon(QPointF place) const;
  void drawMark(QPainter& painter, const QTransform& toWidget) const;
  void refreshWords();  // next step, status, title
  void refreshTabs();
  void refreshTitle();
  void tell(const QString& sentence, bool attention);
  void readPointer(const QPointF& at);
  void zoomToOne();
  void showFinding(int by);
  void watchRest();

  Messages messages_;
  Session session_;
  QThreadPool pool_;
  std::unique_ptr<base::Executor> executor_;
  Lane jobs_, aside_, background_;
  Desk desk_{session_, messages_, jobs_, aside_, background_};
  Workspace workspace_;
  RunOfWork* runOfWork_;
  Sheet* sheet_;
  SeamRibbon* ribbon_;
  QTransform ribbonToShown_;                       // px of the layer, bent, → px of the shown scene
  std::shared_ptr<const scene::Warp> ribbonBend_;  // px of the layer → bent ones; null: it is not shown bent
  base::Size ribbonOf_;                            // the layer's picture
  Canvas *canvas_, *beside_;
  QWidget* bench_;
  BenchHead* head_;
  FirstSteps* firstSteps_;
  Keys* keys_;
  std::vector<Station*> stations_;
  void showMiddle(QWidget* widget);
  QHBoxLayout* pictures_;      // canvas, pinned reference, and what a page shows in their place
  QWidget* middle_ = nullptr;  // what it shows; null: the canvas
  Gather* gather_;
  CutOut* cutOut_;
  LookOver* lookOver_;
  QLabel *reading_, *doing_, *zoom_, *title_, *kept_;
  QPushButton *undo_, *redo_;
  QFrame* notice_;
  QLabel* noticeText_;
  QTimer tick_, said_;
  int due_ = 0, refreshes_ = 0;
  Rest rest_;
  QTimer moment_;  // while it runs, the picture is seen mirrored
  QDateTime startedAt_;
};

}  // namespace hseam::app
