#include "app/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QStyle>
#include <QVBoxLayout>

#include "app/bench_head.h"
#include "app/document/machine_settings.h"
#include "app/first_steps.h"
#include "app/keys/keys.h"
#include "app/leaving.h"
#include "app/sheet/sheet.h"
#include "app/stations/cut_out/cut_out.h"
#include "app/stations/gather/gather.h"
#include "app/stations/hand_over/hand_over.h"
#include "app/stations/look_over/look_over.h"
#include "app/stations/match/match.h"
#include "app/stations/place/place.h"
#include "app/theme/theme.h"
#include "app/widgets/ask_file.h"
#include "core/base/log.h"
#include "core/image/lab.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

constexpr int kSaidMs = 6000;

QString projectFilter() {
  return QObject::tr("Hidden Seam project (*.hseam)");
}

}  // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent),
      session_(image::TileMemory::create(base::chosenFor(machineSettings()).pixelBytes), messages_),
      executor_(base::makePool(base::chosenFor(machineSettings()).threads)),
      jobs_(pool_, *executor_),
      aside_(pool_, *executor_),
      background_(pool_, *executor_),
      workspace_(desk_),
      startedAt_(QDateTime::currentDateTime()) {
  // A job that was stopped may still be on its way to notice: the next one does not wait for it.
  pool_.setMaxThreadCount(std::max(8, pool_.maxThreadCount()));
  setMinimumSize(1100, 700);
  resize(1280, 800);
  gather_ = new Gather(desk_, workspace_);
  cutOut_ = new CutOut(desk_);
  lookOver_ = new LookOver(desk_);
  auto* match = new Match(desk_);
  auto* place = new Place(desk_);
  const auto look = [this](const QRectF& place) {
    const double room = std::min(canvas_->width(), canvas_->height()) / (3 * std::max({place.width(), place.height(), 1.0}));
    canvas_->lookAt(place.center(), std::min(room, 4.0));
  };
  connect(cutOut_, &CutOut::placeAsked, this, look);
  connect(gather_, &Gather::placeAsked, this, look);
  connect(cutOut_, &CutOut::paintInSceneAsked, this, [this, match] {
    goTo(kMatch);
    match->openPage(QStringLiteral("paint"));
  });
  connect(lookOver_, &LookOver::placeAsked, this, [this, place](const QString& page) {
    goTo(kPlace);
    place->openPage(page);
  });
  stations_ = {gather_, cutOut_, place, match, lookOver_, new HandOver(desk_)};
  auto* centre = new QWidget;
  auto* column = new QVBoxLayout(centre);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(buildTop());
  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  sheet_ = new Sheet(desk_.session, desk_.aside);
  middle->addWidget(sheet_);
  canvas_ = new Canvas;
  firstSteps_ = new FirstSteps(desk_.session);
  beside_ = new Canvas;
  beside_->setAccessibleName(tr("Pinned reference"));
  beside_->hide();
  auto* pictures = pictures_ = new QHBoxLayout;
  pictures->setSpacing(1);
  pictures->addWidget(canvas_, 1);
  pictures->addWidget(beside_, 1);
  auto* view = new QVBoxLayout;
  view->setSpacing(0);
  view->addLayout(pictures, 1);
  ribbon_ = new SeamRibbon(desk_.session, desk_.aside);
  view->addWidget(ribbon_);
  view->addWidget(firstSteps_);
  middle->addLayout(view, 1);

  auto* benchColumn = new QWidget;
  benchColumn->setFixedWidth(326);
  benchColumn->setObjectName(QStringLiteral("bench"));
  auto* b = new QVBoxLayout(benchColumn);
  b->setContentsMargins(8, 10, 8, 10);
  b->setSpacing(8);
  head_ = new BenchHead(desk_.jobs);
  b->addWidget(head_);
  // Not a stack: the bench is as tall as the open station, not as the tallest.
  bench_ = new QWidget;
  auto* stack = new QVBoxLayout(bench_);
  stack->setContentsMargins(0, 0, 0, 0);
  for (Station* s : stations_) stack->addWidget(s);
  QScrollArea* scroll = tallRoom(bench_);
  b->addWidget(scroll, 1);
  for (Station* s : stations_) s->pages()->keepOpenSeenIn(scroll);
  middle->addWidget(benchColumn);
  column->addLayout(middle, 1);
  column->addWidget(buildStatus());
  setCentralWidget(centre);
  buildKeys();
  watchRest();
  connect(&lookOver_->watch(), &Watch::changed, this, [this] {
    std::map<scene::LayerId, int> counts;
    if (const auto& report = lookOver_->watch().report()) {
      for (const auto& v : report->findings) ++counts[v.layer];
    }
    sheet_->setFindings(std::move(counts));
  });

  const auto throughProfile = [this] {
    for (Canvas* c : {canvas_, beside_}) c->setDisplay(lookOver_->display());
  };
  connect(&lookOver_->monitor(), &Monitor::changed, this, throughProfile);
  connect(&lookOver_->onPaper(), &OnPaper::changed, this, throughProfile);
  connect(lookOver_, &LookOver::shownOrHidden, this, throughProfile);
  connect(&lookOver_->onPaper(), &OnPaper::zoomAsked, this,
          [this](double zoom) { canvas_->zoomTo(zoom, QRectF(canvas_->rect()).center()); });
  throughProfile();
  Reference& reference = lookOver_->reference();
  connect(&reference, &Reference::changed, this, [this, &reference] {
    beside_->setVisible(reference.scene().has_value());
    if (!reference.scene()) return;
    beside_->show(*reference.scene(), {});
    reference.goesAlong() ? beside_->follow(*canvas_) : beside_->zoomToFit();
  });
  connect(canvas_, &Canvas::viewMoved, this, [this, &reference] {
    if (beside_->isVisible() && reference.goesAlong()) beside_->follow(*canvas_);
  });
  connect(firstSteps_, &FirstSteps::ledTo, this, [this](int station, const QString& page) {
    goTo(station);
    stations_[std::size_t(station)]->openPage(page);
  });
  connect(runOfWork_, &RunOfWork::chosen, this, &MainWindow::goTo);
  for (Station* s : stations_) connect(s, &Station::stationAsked, this, &MainWindow::goTo);
  for (Station* s : stations_)
    connect(s, &Station::changed, this, [this, s] { refreshSoon(s->isVisible() ? kScene | kWords | kTabs : kTabs); });
  connect(gather_, &Gather::addAsked, this, &MainWindow::askForPictures);
  connect(gather_, &Gather::openAsked, this, &MainWindow::askForProject);
  connect(sheet_, &Sheet::addPicturesAsked, this, &MainWindow::askForPictures);
  connect(sheet_, &Sheet::ghostsChanged, this, [this] { refreshSoon(kScene); });
  connect(canvas_, &Canvas::filesDropped, &workspace_, &Workspace::openFiles);
  connect(canvas_, &Canvas::guidesDragged, this,
          [this](const std::vector<scene::Guide>& guides) { desk_.session.apply(scene::SetGuides{guides}); });
  wireRibbon();
  connect(canvas_, &Canvas::failed, this, [this](const QString& s) { tell(s, true); });
  connect(canvas_, &Canvas::pointerMoved, this, &MainWindow::readPointer);
  connect(canvas_, &Canvas::zoomChanged, this,
          [this] { zoom_->setText(QStringLiteral("%1 %").arg(canvas_->zoom() * 100, 0, 'f', canvas_->zoom() < 0.1 ? 1 : 0)); });
  connect(&desk_.session, &Session::sceneChanged, this, [this] { refreshSoon(kScene); });
  connect(&desk_.session, &Session::historyChanged, this, [this] { refreshSoon(kWords | kTabs); });
  connect(&desk_.session, &Session::activeChanged, this, [this] { refreshSoon(kScene | kWords | kTabs); });
  connect(&jobs_, &Lane::failed, &messages_, &Messages::refused);
  connect(&jobs_, &Lane::replaced, this, [this](const QString& name) { emit messages_.said(tr("%1 begins again").arg(name)); });
  connect(&workspace_, &Workspace::keptChanged, this, &MainWindow::refreshTitle);
  connect(&workspace_, &Workspace::pathChanged, this, &MainWindow::refreshTitle);
  workspace_.setMayLeave([this] { return mayLeave(this, workspace_.document()); });
  connect(&desk_.messages, &Messages::said, this, [this](const QString& s) { tell(s, false); });
  connect(&desk_.messages, &Messages::refused, this, [this](const QString& s) { tell(s, true); });
  connect(&tick_, &QTimer::timeout, this, &MainWindow::refreshTitle);
  tick_.start(1000);
  said_.setSingleShot(true);
  connect(&said_, &QTimer::timeout, this, [this] { refreshSoon(kWords); });
  goTo(0);
  setStyleSheet(theme::styleSheet());
}

void MainWindow::showFinding(int by) {
  if (stations_[std::size_t(currentStation())] == cutOut_ && cutOut_->stepDoubt(by)) return;
  if (stations_[std::size_t(currentStation())] == gather_ && gather_->stepOverlap(by)) return;
  goTo(kLookOver);
  lookOver_->findings().step(by);
}

void MainWindow::zoomToOne() {
  canvas_->zoomTo(1, QPointF(canvas_->width() / 2.0, canvas_->height() / 2.0));
}

void MainWindow::setLook(theme::Look look) {
  QSettings().setValue(QStringLiteral("look"), look == theme::Look::light ? QStringLiteral("light") : QStringLiteral("dark"));
  theme::apply(*qApp, look);
  setStyleSheet(theme::styleSheet());
  sheet_->renew();
  for (QWidget* w : findChildren<QWidget*>()) w->update();
}

void MainWindow::goTo(int i) {
  runOfWork_->setCurrent(i);
  for (int k = 0; k < int(stations_.size()); ++k) stations_[std::size_t(k)]->setVisible(k == i);
  // Where the whole is judged, the edge is judged in the scene.
  ribbon_->setOverScene(i == kLookOver);
  refreshNow(kScene | kWords | kTabs);
}

void MainWindow::refreshSoon(int due) {
  const bool first = due_ == 0;
  due_ |= due;
  if (first)
    QMetaObject::invokeMethod(
        this, [this] { refreshNow(due_); }, Qt::QueuedConnection);
}

void MainWindow::refreshNow(int due) {
  due_ &= ~due;
  Station* s = stations_[std::size_t(currentStation())];
  // A file that is weighed follows finished steps, not every move of the hand.
  if (due & kWords || (due & kScene && s != stations_[kHandOver])) {
    ++refreshes_;
    s->refresh();
  }
  if (due & kScene) refreshScene();
  if (due & kTabs) refreshTabs();
  if (due & kWords) refreshWords();
}

void MainWindow::refreshScene() {
  Station* s = stations_[std::size_t(currentStation())];
  View view = s->view();
  view.ghosts = sheet_->ghosts();
  // By value: an instrument that is put down drops the draft, and what is shown with it.
  const scene::Scene shown = desk_.session.shown();
  canvas_->show(sceneFor(shown, view), view);
  canvas_->setBefore(s == lookOver_ ? lookOver_->before() : std::nullopt);
  canvas_->setMirrored((s == lookOver_ && lookOver_->mirrored()) != moment_.isActive());
  refreshRibbon(view);
  showMiddle(s->middle());
  canvas_->setRulers(s == stations_[kPlace]);
  canvas_->setInstrument(s->instrument());
  const scene::Layer* l = scene::findLayer(shown, desk_.session.active());
  QPolygonF outline;
  const bool marks = s != lookOver_ && s != stations_[kHandOver] && !view.onlyLayer.value;
  if (l && l->picture() && marks) {
    const base::Size size = l->picture()->source.size();
    const base::Affine m = l->picture()->placement.toScene(size);
    for (const base::Point& p : {m.map({0, 0}), m.map({double(size.width), 0}), m.map({double(size.width), double(size.height)}),
                                 m.map({0, double(size.height)})}) {
      outline << QPointF(p.x, p.y);
    }
  }
  canvas_->setActiveOutline(outline, l ? QString::fromStdString(l->name) : QString());
}

// What a page shows instead of the canvas.
void MainWindow::showMiddle(QWidget* widget) {
  if (widget == middle_) return;
  if (middle_) middle_->hide();
  middle_ = widget;
  if (middle_ && pictures_->indexOf(middle_) < 0) pictures_->insertWidget(0, middle_, 1);
  canvas_->setVisible(!middle_);
  if (middle_) middle_->show();
}

void MainWindow::refreshTabs() {
  for (int i = 0; i < int(stations_.size()); ++i) {
    const auto [stitch, words] = stations_[std::size_t(i)]->state();
    runOfWork_->setState(i, stitch, words);
  }
}

void MainWindow::refreshWords() {
  Station* s = stations_[std::size_t(currentStation())];
  head_->setStep(s->nextStep());
  if (!said_.isActive()) {
    Instrument* instrument = s->instrument();
    doing_->setText(instrument    ? instrument->doing()
                    : s->middle() ? s->middle()->accessibleDescription()
                                  : tr("looks at %1")
                                        .arg(s->view().onlyLayer.value && desk_.session.activeLayer()
                                                 ? QString::fromStdString(desk_.session.activeLayer()->name)
                                                 : tr("the scene")));
  }
  const scene::History& h = desk_.session.history();
  undo_->setEnabled(h.canUndo());
  redo_->setEnabled(h.canRedo());
  undo_->setToolTip(h.canUndo() ? tr("Take back: %1 (Ctrl+Z)").arg(QString::fromStdString(h.step(h.current()).label))
                                : tr("Nothing to take back"));
  redo_->setToolTip(h.canRedo() ? tr("Do again: %1 (Ctrl+Shift+Z)").arg(QString::fromStdString(h.step(h.current() + 1).label))
                                : tr("Nothing to do again"));
  refreshTitle();
}

void MainWindow::refreshTitle() {
  title_->setText(desk_.session.title());
  setWindowTitle(tr("%1 — Hidden Seam").arg(desk_.session.title()));
  const qint64 since = workspace_.document().keptAt().secsTo(QDateTime::currentDateTime());
  const Keeper::Waiting waiting = workspace_.document().waiting();
  QString when = since < 60 ? tr("kept %1 s ago").arg(since) : tr("kept %1 min ago").arg(since / 60);
  if (waiting.steps > 0) when = tr("keeping…");
  if (!waiting.why.isEmpty()) when = waiting.steps == 1 ? tr("1 step waits") : tr("%1 steps wait").arg(waiting.steps);
  if (desk_.session.onlyLooking()) when = tr("for looking only");
  kept_->setToolTip(waiting.why.isEmpty() ? QString() : tr("It is tried again by itself. %1").arg(waiting.why));
  if (const bool warn = !waiting.why.isEmpty(); warn != kept_->property("warn").toBool()) {
    kept_->setProperty("warn", warn);
    kept_->style()->unpolish(kept_);
    kept_->style()->polish(kept_);
  }
  const qint64 minutes = startedAt_.secsTo(QDateTime::currentDateTime()) / 60;
  kept_->setText(minutes < 60 ? tr("%1 · %2 min").arg(when).arg(minutes)
                              : tr("%1 · %2 h %3 min").arg(when).arg(minutes / 60).arg(minutes % 60));
}

void MainWindow::closeEvent(QCloseEvent* event) {
  event->setAccepted(mayLeave(this, workspace_.document()));
}

void MainWindow::tell(const QString& sentence, bool attention) {
  base::log(attention ? base::LogLevel::warning : base::LogLevel::info, sentence.toStdString());
  if (attention) {
    noticeText_->setText(sentence);
    notice_->show();
    return;
  }
  doing_->setText(sentence);
  said_.start(kSaidMs);
}

// The pixel that is shown there, at its level, worked out beside the window's thread: a wide blur asks for many around it.
void MainWindow::readPointer(const QPointF& at) {
  const scene::Scene& s = canvas_->shownScene();
  const int x = int(std::floor(at.x())), y = int(std::floor(at.y()));
  if (!base::Rect::of(s.canvas).contains(x, y)) {
    reading_->clear();
    return;
  }
  const int level = canvas_->level();
  desk_.aside.ask<std::optional<std::array<float, 4>>>(
      QStringLiteral("pointer"),
      [s, x, y, level]() -> std::optional<std::array<float, 4>> {
        static render::Renderer renderer;
        base::InlineExecutor here;
        const auto px = renderer.render(s, {x >> level, y >> level, 1, 1}, level, here);
        if (!px.ok()) return std::nullopt;
        const float* p = px->row(0);
        return std::array{p[0], p[1], p[2], p[3]};
      },
      [this, x, y](const std::optional<std::array<float, 4>>& p) {
        if (!p) return;
        const image::Lab lab = image::labFromEncoded({double((*p)[0]), double((*p)[1]), double((*p)[2])});
        reading_->setText((*p)[3] <= 0 ? tr("x %1 y %2 nothing here").arg(x).arg(y)
                                       : tr("x %1 y %2 L* %3 a* %4 b* %5 alpha %6")
                                             .arg(x)
                                             .arg(y)
                                             .arg(lab.l, 0, 'f', 1)
                                             .arg(lab.a, 0, 'f', 1)
                                             .arg(lab.b, 0, 'f', 1)
                                             .arg(double((*p)[3]), 0, 'f', 2));
      });
}

void MainWindow::askForPictures() {
  workspace_.openFiles(QFileDialog::getOpenFileNames(
      this, tr("Add pictures"), {}, Workspace::picturesFilter() + QStringLiteral(";;") + tr("OpenRaster (*.ora)")));
}

void MainWindow::askForProject() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Open a project"), {}, projectFilter());
  if (!path.isEmpty()) workspace_.openProject(path);
}

void MainWindow::askSaveAs() {
  const QString ending = QStringLiteral(".hseam");
  const QString path = askWhereToWrite(this, tr("Name this project"), desk_.session.title() + ending, {ending}, projectFilter());
  if (!path.isEmpty()) workspace_.saveAs(path);
}

}  // namespace hseam::app
