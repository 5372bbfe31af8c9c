#include "app/demo.h"

#include <QApplication>
#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QFileInfo>
#include <QProcess>
#include <QPushButton>
#include <QRadioButton>
#include <QStandardPaths>
#include <QThread>
#include <cstdio>

#include "app/first_steps.h"
#include "app/instruments/brush.h"
#include "app/main_window.h"
#include "app/stations/cut_out/cut_out.h"
#include "app/stations/gather/frame_work.h"
#include "app/stations/gather/look_through.h"
#include "app/stations/hand_over/many_files.h"
#include "app/stations/hand_over/weight.h"
#include "app/stations/look_over/look_over.h"
#include "app/stations/match/adjust.h"
#include "app/stations/match/lights.h"
#include "core/base/resources.h"
#include "core/store/project_file.h"

namespace hseam::app {
namespace {

// Findings are still being worked out where they are looked at.
bool reading(MainWindow& window) {
  auto* over = qobject_cast<LookOver*>(&window.station(kLookOver));
  return over && window.currentStation() == kLookOver && !over->watch().isOfNow();
}

void settle(MainWindow& window, int atMostMs = 60000) {
  QElapsedTimer clock;
  clock.start();
  do {
    QApplication::processEvents(QEventLoop::AllEvents, 20);
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QThread::msleep(2);
  } while ((window.desk().jobs.running() || !window.canvas().settled() || window.desk().aside.running() || reading(window)) &&
           clock.elapsed() < atMostMs);
  // Layouts within layouts pass a change of height upwards one turn at a time.
  constexpr int kTurns = 12;
  for (int i = 0; i < kTurns; ++i) QApplication::processEvents();
}

scene::LayerId layerNamed(const scene::Scene& s, const std::string& name) {
  for (const auto& l : scene::allLayers(s)) {
    if (l->name == name) return l->id;
  }
  return {};
}

}  // namespace

QString demoFolder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation);
}

QString demoProject(const QString& folder, DemoScene which) {
  QDir().mkpath(folder);
  const bool noon = which == DemoScene::noon;
  const QString name = noon ? QStringLiteral("Keeper at noon") : QStringLiteral("Lamplighter poster"),
                project = folder + QLatin1Char('/') + name + QStringLiteral(".hseam");
  if (QFileInfo::exists(project)) {
    base::InlineExecutor here;
    const auto look = store::ProjectFile::openToRead(project.toStdString(), image::TileMemory::create(1 << 28), here);
    if (look.ok() || look.error().code != base::Code::unsupported) return project;
    // Of a version that kept pixels another way: it is set aside, not overwritten.
    QFile::rename(project, folder + QStringLiteral("/%1, %2.hseam").arg(name).arg(QDateTime::currentSecsSinceEpoch()));
  }
  const QString demo = QString::fromStdString(base::resourcePath("demo"));
  QProcess make;
  make.setProcessChannelMode(QProcess::ForwardedErrorChannel);
  make.start(QApplication::applicationDirPath() + QStringLiteral("/hseam"),
             {QStringLiteral("new"), project, QStringLiteral("--scene"),
              demo + (noon ? QStringLiteral("/noon.json") : QStringLiteral("/poster.json"))});
  if (!make.waitForFinished(120000) || make.exitCode() != 0) {
    std::fprintf(stderr, "The demo scene could not be made.\n");
    return {};
  }
  return project;
}

void openDemoFrames(MainWindow& window, DemoFrames which) {
  const QString folder = QString::fromStdString(base::resourcePath("demo")) + QStringLiteral("/pictures/frames/");
  const bool stage = which == DemoFrames::stage;
  QStringList others;
  for (int i = stage ? 2 : 1; i <= 5; ++i)
    others << folder + QStringLiteral("%1-%2.jpg").arg(stage ? QStringLiteral("stage") : QStringLiteral("room")).arg(i);
  window.workspace().newScene({50, 50});
  window.workspace().openFiles({folder + (stage ? QStringLiteral("stage-1.jpg") : QStringLiteral("room-dark.jpg"))});
  window.goTo(kGather);
  window.station(kGather).openPage(QStringLiteral("frames"));
  // Once the first of them is there.
  auto* once = new QMetaObject::Connection;
  *once = QObject::connect(&window.desk().session, &Session::sceneChanged, &window, [&window, others, stage, once] {
    auto* work = window.findChild<FrameWork*>();
    if (!work || !window.desk().session.activeLayer()) return;
    QObject::disconnect(*once);
    delete once;
    work->add(others, stage ? scene::FrameSet::Way::picked : scene::FrameSet::Way::lamps);
  });
}

bool drawShots(MainWindow& window, const QString& folder) {
  if (!QDir().mkpath(folder)) return false;
  settle(window);
  bool good = true;
  const auto shot = [&](const char* name) {
    settle(window);
    good = window.grab().save(folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png")) && good;
  };
  const auto open = [&](StationIndex station, const char* page) {
    window.goTo(station);
    window.station(station).openPage(QLatin1String(page));
  };
  Session& session = window.desk().session;
  session.setActive(layerNamed(session.scene(), "lamplighter"));
  open(kGather, "add");
  shot("gather");
  auto* cut = qobject_cast<CutOut*>(&window.station(1));
  open(kCutOut, "guess");
  cut->guess(false);
  shot("cut-out-guess");
  open(kCutOut, "outline");
  // Along the coat: three pins, and the pointer on its way to the fourth.
  auto* shape = cut->findChild<QComboBox*>(QStringLiteral("outlines"));
  shape->setCurrentIndex(shape->count() - 1);
  settle(window);
  for (const QPointF& pin : {QPointF(1500, 1470), QPointF(1640, 2060), QPointF(1650, 2385)}) {
    cut->instrument()->press({pin, Qt::LeftButton, {}, 1});
    settle(window);
  }
  cut->instrument()->hover({1300, 2395});
  window.canvas().update();
  shot("cut-out-outline");
  cut->instrument()->cancel();
  open(kCutOut, "kept");
  session.apply(scene::SetSavedSelections{session.active(),
                                          {{"whole figure", session.activeLayer()->picture()->cutout->selection}},
                                          "keep the selection whole figure"});
  shot("cut-out-kept");
  open(kCutOut, "path");
  cut->fitPath();
  shot("cut-out-path");
  open(kCutOut, "band");
  cut->findBand();
  shot("cut-out-band");
  cut->solve();
  shot("cut-out-solved");
  open(kCutOut, "shape");
  settle(window);
  cut->instrument()->press({{1500, 1470}, Qt::LeftButton, {}, 1});
  cut->instrument()->release({{1640, 2060}, Qt::LeftButton, {}, 1});
  shot("cut-out-shape");
  open(kCutOut, "paint");
  window.canvas().zoomTo(1, QPointF(window.canvas().width() * 0.5, window.canvas().height() * 0.32));
  shot("cut-out-paint");
  // The hat's left side becomes furry: strands are hidden from outside.
  auto* tip = cut->findChild<QComboBox*>(QStringLiteral("tips"));
  tip->setCurrentIndex(2);
  emit tip->activated(2);
  const auto inPicture = [&](double x, double y) { return window.canvas().toWidget().inverted().map(QPointF(x, y)); };
  cut->instrument()->press({inPicture(205, 2), Qt::RightButton, {}, 1});
  for (int i = 1; i <= 10; ++i) cut->instrument()->move({inPicture(205 - i, 2 + 7 * i), Qt::RightButton, {}, 1});
  cut->instrument()->release({inPicture(195, 72), Qt::RightButton, {}, 1});
  shot("cut-out-strands");
  tip->setCurrentIndex(0);
  emit tip->activated(0);
  session.undo();
  // One of the pier's lamps goes.
  const scene::LayerId pier = layerNamed(session.scene(), "pier at dusk");
  session.setActive(pier);
  const base::Size ground = session.activeLayer()->picture()->source.size();
  const auto at = [&](double u, double v) { return base::Point{u * ground.width, v * ground.height}; };
  open(kCutOut, "outline");
  shape->setCurrentIndex(2);
  cut->instrument()->press({{at(0.63, 0.08).x, at(0.63, 0.08).y}, Qt::LeftButton, {}, 1});
  cut->instrument()->move({{at(0.72, 0.61).x, at(0.72, 0.61).y}, Qt::LeftButton, {}, 1});
  cut->instrument()->release({{at(0.72, 0.61).x, at(0.72, 0.61).y}, Qt::LeftButton, {}, 1});
  settle(window);
  open(kCutOut, "take-out");
  cut->findChild<QPushButton*>(QStringLiteral("fill"))->click();
  shot("cut-out-take-out");
  session.undo();
  session.undo();
  session.setActive(layerNamed(session.scene(), "lamplighter"));
  open(kPlace, "set-in-place");
  shot("place");
  open(kPlace, "canvas");
  shot("canvas");
  session.apply(scene::SetGuides{{{true, 400}, {false, 0, base::Point{1500, 900}}}});
  open(kPlace, "guides");
  shot("place-guides");
  session.undo();
  window.firstSteps().begin();
  open(kMatch, "add-adjustment");
  shot("first-steps");
  window.firstSteps().hide();
  window.desk().session.setActive(layerNamed(window.desk().session.scene(), "evening over everything"));
  open(kMatch, "adjust");
  shot("match");
  // The horizon of the picture's own camera, then a cast and a contact shadow for the fox.
  session.apply(scene::SetFloor{scene::Floor{896, 0, 1.62, 46}});
  session.setActive(layerNamed(session.scene(), "fox"));
  open(kMatch, "lights");
  auto* lights = window.station(3).findChild<Lights*>();
  const auto press = [&](const char* name) {
    for (auto* b : lights->findChildren<QPushButton*>()) {
      if (b->text() == QLatin1String(name)) b->click();
    }
    settle(window);
  };
  press("Contact");
  press("Cast a shadow");
  shot("match-shadow");
  session.setActive(layerNamed(session.scene(), "fox"));
  open(kPlace, "floor");
  shot("place-floor");
  // A corner of the fox's picture pulled out, as onto a slanting board.
  open(kPlace, "bend");
  settle(window);
  auto* bend = window.station(2).instrument();
  bend->press({QPointF(2408, 1190), Qt::LeftButton, {}, 1});
  bend->move({QPointF(2460, 1090), Qt::LeftButton, {}, 1});
  bend->release({QPointF(2480, 1060), Qt::LeftButton, {}, 1});
  shot("place-bend");
  session.setActive(layerNamed(session.scene(), "pier at dusk"));
  window.goTo(3);
  window.station(kMatch).findChild<AddAdjustment*>()->add(
      scene::with(scene::parametric(scene::AdjustmentId::defocus), "radius", 24), true);
  shot("match-focus");
  session.setActive(layerNamed(session.scene(), "pier at dusk"));
  open(kMatch, "fills");
  shot("match-fills");
  while (session.history().step(session.history().current()).label != "horizon and camera") session.undo();
  session.undo();
  session.setActive(layerNamed(session.scene(), "lamplighter"));
  open(kLookOver, "findings");
  settle(window);
  qobject_cast<LookOver*>(&window.station(4))->findings().step(1);
  shot("look-over");
  // The question answered, and the figure made to belong.
  const int asFound = session.history().current();
  session.apply(scene::SetFloor{scene::Floor{896, 0, 1.62, 46}});
  for (QAbstractButton* b : window.station(4).findChildren<QAbstractButton*>()) {
    if (b->text() == QObject::tr("Make it belong")) b->click();
  }
  shot("look-over-belonged");
  while (session.history().current() > asFound) session.undo();
  open(kLookOver, "eyes");
  for (QRadioButton* b : window.station(4).findChildren<QRadioButton*>()) {
    if (b->text() == QObject::tr("its focus")) b->click();
  }
  shot("look-over-focus");
  for (QAbstractButton* b : window.station(4).findChildren<QAbstractButton*>()) {
    if (b->text() == QObject::tr("as it is") || b->text() == QObject::tr("heat along the seams")) b->click();
  }
  shot("look-over-heat");
  for (QAbstractButton* b : window.station(4).findChildren<QAbstractButton*>()) {
    if (b->text() == QObject::tr("heat along the seams")) b->click();
  }
  open(kLookOver, "compare");
  shot("look-over-compared");
  open(kLookOver, "tolerances");
  shot("look-over-judged");
  open(kLookOver, "paper");
  shot("look-over-paper");
  open(kLookOver, "fresh");
  shot("look-over-fresh");
  open(kHandOver, "write");
  shot("hand-over");
  open(kHandOver, "weight");
  window.findChild<Weight*>()->weigh();
  settle(window);
  shot("hand-over-weight");
  open(kHandOver, "many");
  window.findChild<ManyFiles*>()->take({QString::fromStdString(base::resourcePath("demo")) + QStringLiteral("/pictures/frames")});
  shot("hand-over-many");
  open(kGather, "look-through");
  window.findChild<LookThrough*>()->open(QString::fromStdString(base::resourcePath("demo")) + QStringLiteral("/pictures/frames"));
  QElapsedTimer clock;
  for (clock.start(); clock.elapsed() < 1500;) settle(window);
  shot("gather-folder");
  openDemoFrames(window, DemoFrames::stage);
  settle(window);
  open(kGather, "picks");
  auto* from = window.station(kGather).findChild<QComboBox*>(QStringLiteral("pickFrom"));
  const base::Size size = session.activeLayer()->picture()->source.size();
  for (const auto& [frame, x] : {std::pair(1, 0.3125), std::pair(2, 0.5), std::pair(4, 0.866)}) {
    from->setCurrentIndex(frame);
    Instrument* brush = window.station(kGather).instrument();
    brush->press({QPointF(x * size.width, 0.47 * size.height), Qt::LeftButton, {}, 1});
    brush->move({QPointF(x * size.width, 0.55 * size.height), Qt::LeftButton, {}, 1});
    brush->release({QPointF(x * size.width, 0.64 * size.height), Qt::LeftButton, {}, 1});
    settle(window);
  }
  shot("gather-frames");
  openDemoFrames(window, DemoFrames::room);
  settle(window);
  open(kGather, "lamps");
  for (clock.start(); clock.elapsed() < 1500;) settle(window);
  shot("gather-lamps");
  return good;
}

}  // namespace hseam::app
