// What the window does when the disk refuses, when another window has the project, and when it gets another name meanwhile.

#include <QFile>
#include <QMessageBox>
#include <QSignalSpy>
#include <QTimer>

#include "app/document/keeper.h"
#include "app/window.h"
#include "full_disk.h"

using namespace hseam;

namespace {

scene::Scene paper() {
  scene::Scene s;
  s.canvas = {200, 100};
  scene::Layer l;
  l.id = {1};
  l.name = "paper";
  scene::PictureContent p;
  p.source = test::picture(200, 100, 3, [](int x, int y, int) { return x + y; });
  l.content = std::move(p);
  s.layers = {std::make_shared<const scene::Layer>(std::move(l))};
  return s;
}

void makeProject(const QString& path) {
  test::must(
      test::must(store::ProjectFile::create(path.toStdString(), paper(), "begin", test::memory(), test::here())).file->close());
}
store::ProjectFile::Opened read(const QString& path) {
  return test::must(store::ProjectFile::openToRead(path.toStdString(), image::TileMemory::create(1 << 26), test::here()));
}
double opacityIn(const QString& path) {
  return read(path).history.scene().layers[0]->opacity;
}
scene::Edit opacity(double v) {
  return scene::SetOpacity{{1}, v};
}

// Clicks a button of the next dialog by its first word, as soon as it is there.
void answerWith(const QString& begins, const std::function<void()>& before = {}) {
  auto* timer = new QTimer;
  QObject::connect(timer, &QTimer::timeout, timer, [timer, begins, before] {
    auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
    if (!box) return;
    timer->deleteLater();
    timer->stop();
    if (before) before();
    for (QAbstractButton* b : box->buttons()) {
      if (b->text().startsWith(begins)) return b->click();
    }
    qFatal("no such answer");
  });
  timer->start(20);
}

}  // namespace

class KeepingTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  QString at(const char* name) const { return dir_.filePath(QLatin1String(name)); }

 private slots:
  void stepsAreTriedAgainInTheirOrder() {
    makeProject(at("order.hseam"));
    auto opened = test::must(store::ProjectFile::open(at("order.hseam").toStdString(), test::memory(), test::here()));
    scene::Scene s = opened.history.scene();
    app::Keeper keeper(std::move(opened.file));
    std::atomic<bool> full{false};
    std::atomic<int> tries{0};
    const auto keep = [&](double v, int after) {
      s = test::must(scene::apply(s, opacity(v)));
      keeper.keep([s, after, &full, &tries](store::ProjectFile& file) -> base::Status {
        ++tries;
        if (full) return base::Error{base::Code::unwritable, file.path(), "the disk is full"};
        return file.keep({s, "opacity"}, "SetOpacity", after);
      });
    };
    keep(0.1, 0);
    QVERIFY(keeper.flush());
    full = true;
    for (int i = 0; i < 5; ++i) keep(0.2 + 0.1 * i, 1 + i);
    QVERIFY(!keeper.flush());
    QCOMPARE(keeper.waiting().steps, 5);
    QVERIFY(keeper.waiting().why.contains(QStringLiteral("full")));
    QVERIFY(tries < 6);  // only the first is tried: nothing later is written before it
    // Other work is done meanwhile, and tells its own outcome, without touching the count.
    int told = 0;
    keeper.post(
        [](store::ProjectFile&) -> base::Status {
          return base::Error{base::Code::unwritable, "x", "a copy that fails"};
        },
        [&](const base::Status& done) { told += done.ok() ? 100 : 1; });
    QTRY_COMPARE(told, 1);
    QCOMPARE(keeper.waiting().steps, 5);
    QCOMPARE(opacityIn(at("order.hseam")), 0.1);
    full = false;
    keeper.tryAgain();
    QVERIFY(keeper.flush());
    QCOMPARE(keeper.waiting().steps, 0);
    QVERIFY(keeper.waiting().why.isEmpty());
    const auto after = read(at("order.hseam"));
    QCOMPARE(after.history.count(), 7);
    for (int i = 1; i < 7; ++i) QCOMPARE(test::must(after.history.sceneOf(i)).layers[0]->opacity, 0.1 * i);
  }
  void aCopyElsewhereHasWhatWaits() {
    makeProject(at("here.hseam"));
    auto opened = test::must(store::ProjectFile::open(at("here.hseam").toStdString(), test::memory(), test::here()));
    scene::Scene s = opened.history.scene();
    app::Keeper keeper(std::move(opened.file));
    for (int i = 0; i < 3; ++i) {
      s = test::must(scene::apply(s, opacity(0.3 + 0.1 * i)));
      // This disk is full; the other is not.
      keeper.keep([s, i, here = at("here.hseam").toStdString()](store::ProjectFile& file) -> base::Status {
        if (file.path() == here) return base::Error{base::Code::unwritable, here, "the disk is full"};
        return file.keep({s, "opacity"}, "SetOpacity", i);
      });
    }
    QVERIFY(!keeper.flush());
    std::optional<base::Status> done;
    keeper.copyAll(at("elsewhere.hseam"), [&](const base::Status& status) { done = status; });
    QTRY_VERIFY(done.has_value());
    test::must(*done);
    QCOMPARE(read(at("elsewhere.hseam")).history.count(), 4);
    QCOMPARE(opacityIn(at("elsewhere.hseam")), 0.5);
    QCOMPARE(keeper.waiting().steps, 3);
    // Moving the project there is the other remedy: what waits is written in its new place.
    done.reset();
    keeper.post([to = at("moved.hseam").toStdString()](
                    store::ProjectFile& file) { return file.moveTo(to, store::ProjectFile::Old::stays); },
                [&](const base::Status& status) { done = status; });
    QTRY_VERIFY(done.has_value());
    test::must(*done);
    QVERIFY(keeper.flush());
    QCOMPARE(opacityIn(at("moved.hseam")), 0.5);
    QCOMPARE(read(at("here.hseam")).history.count(), 1);
  }
  void aFullDiskIsToldAndTheWorkGoesOn() {
    makeProject(at("full.hseam"));
    test::Window w;
    w.open({at("full.hseam")});
    QSignalSpy refused(&w.desk().messages, &app::Messages::refused);
    test::FullDisk full;
    for (int i = 0; i < 4; ++i) QVERIFY(w.desk().session.apply(opacity(0.2 * (i + 1))));
    QTRY_COMPARE(refused.size(), 1);  // told once, not for each step
    QVERIFY(refused[0][0].toString().contains(QStringLiteral("not on the disk yet")));
    QCOMPARE(w.workspace().document().waiting().steps, 4);
    w.desk().session.undo();
    QCOMPARE(w.scene().layers[0]->opacity, 0.6);
    QTRY_VERIFY(w.labelThatBegins(QStringLiteral("5 steps wait")));
    // Going on working is one answer.
    answerWith(QStringLiteral("Go on"));
    QVERIFY(!w->close());
    QVERIFY(w->isVisible());
    // Another project does not take its place either.
    answerWith(QStringLiteral("Go on"));
    w.workspace().newScene({10, 10});
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    // There is room again, and all that waited is written.
    answerWith(QStringLiteral("Try again"), [&] { full.end(); });
    QVERIFY(w->close());
    QCOMPARE(w.workspace().document().waiting().steps, 0);
    QCOMPARE(opacityIn(at("full.hseam")), 0.6);
    QCOMPARE(read(at("full.hseam")).history.count(), 5);
  }
  void whatWaitsCanBeGivenUp() {
    makeProject(at("given.hseam"));
    {
      test::Window w;
      w.open({at("given.hseam")});
      QVERIFY(w.desk().session.apply(opacity(0.5)));
      w.workspace().document().flush();
      test::FullDisk full;
      QVERIFY(w.desk().session.apply(opacity(0.7)));
      answerWith(QStringLiteral("Give"));
      QVERIFY(w->close());
    }
    const auto after = read(at("given.hseam"));
    QCOMPARE(after.history.count(), 2);
    QCOMPARE(after.history.scene().layers[0]->opacity, 0.5);
  }
  void anotherNameTakesAllThatIsDoneMeanwhile() {
    test::Window w;
    w.workspace().newScene({200, 100});
    scene::Layer l = *paper().layers[0];
    QVERIFY(w.desk().session.apply(scene::AddLayer{l, {}, -1}));
    const QString untitled = w.workspace().document().path();
    w.workspace().saveAs(at("named.hseam"));
    // Before the copy can have been made, and while the window hears of it.
    for (int i = 0; i < 6; ++i) QVERIFY(w.desk().session.apply(opacity(0.1 + 0.1 * i)));
    QTRY_COMPARE(w.workspace().document().path(), at("named.hseam"));
    QVERIFY(w.desk().session.apply(opacity(0.9)));
    QVERIFY(w.workspace().document().flush());
    QVERIFY(!QFile::exists(untitled));
    QCOMPARE(w.desk().session.title(), QStringLiteral("named"));
    QCOMPARE(w.desk().session.history().count(), 9);  // and all of it can be taken back
    QCOMPARE(read(at("named.hseam")).history.count(), 9);
    QCOMPARE(opacityIn(at("named.hseam")), 0.9);
    // The name it has already is refused, and nothing happens to it.
    QSignalSpy refused(&w.desk().messages, &app::Messages::refused);
    w.workspace().saveAs(at("named.hseam"));
    QCOMPARE(refused.size(), 1);
    QCOMPARE(opacityIn(at("named.hseam")), 0.9);
  }
  void aSecondWindowLooks() {
    makeProject(at("shared.hseam"));
    test::Window first, second;
    first.open({at("shared.hseam")});
    QVERIFY(first.desk().session.apply(opacity(0.4)));
    first.workspace().document().flush();
    QSignalSpy refused(&second.desk().messages, &app::Messages::refused);
    second.open({at("shared.hseam")});
    QVERIFY(second.desk().session.onlyLooking());
    QVERIFY(refused[0][0].toString().contains(QStringLiteral("another window")));
    QVERIFY(refused[0][0].toString().contains(QString::number(QCoreApplication::applicationPid())));
    QCOMPARE(second.scene().layers[0]->opacity, 0.4);
    QVERIFY(second.labelThatBegins(QStringLiteral("for looking only")));
    QVERIFY(!second.desk().session.apply(opacity(0.8)));
    QCOMPARE(second.scene().layers[0]->opacity, 0.4);
    // The first goes on, and loses nothing.
    QVERIFY(first.desk().session.apply(opacity(0.6)));
    first.workspace().document().flush();
    QCOMPARE(opacityIn(at("shared.hseam")), 0.6);
    // A copy of one's own can be changed.
    second.workspace().saveAs(at("own.hseam"));
    QTRY_COMPARE(second.desk().session.title(), QStringLiteral("own"));
    second.settle();
    QVERIFY(!second.desk().session.onlyLooking());
    QVERIFY(second.desk().session.apply(opacity(0.8)));
    QVERIFY(second.workspace().document().flush());
    QCOMPARE(opacityIn(at("own.hseam")), 0.8);
    QCOMPARE(opacityIn(at("shared.hseam")), 0.6);
  }
  void goodFilesComeInBesideBadOnes() {
    QVERIFY(QImage(40, 30, QImage::Format_RGB32).save(at("good.png")));
    QFile bad(at("bad.jpg"));
    QVERIFY(bad.open(QIODevice::WriteOnly) && bad.write("no picture") > 0);
    bad.close();
    makeProject(at("with.hseam"));
    test::Window w;
    QSignalSpy refused(&w.desk().messages, &app::Messages::refused);
    w.open({at("bad.jpg"), at("good.png"), at("missing.png"), at("good.png")});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QCOMPARE(refused.size(), 1);
    const QString lines = refused[0][0].toString();
    QVERIFY2(lines.contains(QStringLiteral("bad.jpg")) && lines.contains(QStringLiteral("missing.png")), qPrintable(lines));
    QCOMPARE(lines.count(QLatin1Char('\n')), 1);
    // Pictures beside a project go into it.
    w.open({at("good.png"), at("with.hseam")});
    QTRY_COMPARE(w.scene().layers.size(), std::size_t(2));
    w.settle();
    QCOMPARE(w.desk().session.title(), QStringLiteral("with"));
    QCOMPARE(w.scene().layers[0]->name, std::string("paper"));
  }
  void resultsOfOldPicturesAreRefused() {
    test::Window w;
    w.workspace().newScene({200, 100});
    scene::Layer l = *paper().layers[0];
    l.mask.coverage = image::uniformCoverage({200, 100}, 255, test::memory());
    QVERIFY(w.desk().session.apply(scene::AddLayer{l, {}, -1}));
    const scene::Scene from = w.scene();
    const auto stroke = image::uniformCoverage({200, 100}, 100, test::memory());
    QVERIFY(w.desk().session.apply(scene::SetMask{{1}, stroke, "painted"}));
    QSignalSpy refused(&w.desk().messages, &app::Messages::refused);
    const scene::Edit old = scene::SetMask{{1}, image::uniformCoverage({200, 100}, 50, test::memory()), "softened"};
    QVERIFY(!w.desk().session.applyResult(old, from));
    QCOMPARE(refused.size(), 1);
    QCOMPARE(w.scene().layers[0]->mask.coverage.stamp(), stroke.stamp());
    // What it does not replace may have changed.
    QVERIFY(w.desk().session.apply(opacity(0.5)));
    QVERIFY(w.desk().session.applyResult(scene::SetSelection{{1}, stroke, "guessed"}, from));
    QVERIFY(w.desk().session.apply(scene::RemoveLayer{{1}}));
    QVERIFY(!w.desk().session.applyResult(old, from));
  }
  void aBentPictureIsPaintedWhereItIsSeen() {
    test::Window w;
    w.workspace().newScene({300, 200});
    scene::Layer l = *paper().layers[0];
    auto& p = std::get<scene::PictureContent>(l.content);
    p.placement.x = 50, p.placement.y = 40;
    auto warp = scene::Warp{};
    warp.corners = {{0, 0}, {200, 60}, {200, 100}, {0, 100}};
    p.warp = std::make_shared<const scene::Warp>(warp);
    l.mask.coverage = image::uniformCoverage({200, 100}, 255, test::memory());
    QVERIFY(w.desk().session.apply(scene::AddLayer{l, {}, -1}));
    w.goTo(test::kMatch);
    w.openPage("paint");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("16"));
    // Near the right side, where the picture is pressed into the lower part: hidden with the right button where it is seen.
    const QPointF seen(50 + 180, 40 + 78);
    const auto before = test::must(render::Renderer().render(w.scene(), {0, 0, 300, 200}, 0, test::here()));
    QVERIFY(before.at(230, 118)[3] > 0.9f);
    auto* brush = w->station(test::kMatch).instrument();
    brush->press({seen, Qt::RightButton, {}, 1});
    brush->release({seen, Qt::RightButton, {}, 1});
    w.settle();
    const auto after = test::must(render::Renderer().render(w.scene(), {0, 0, 300, 200}, 0, test::here()));
    QVERIFY2(after.at(230, 118)[3] < 0.1f, qPrintable(QString::number(double(after.at(230, 118)[3]))));
    // And nowhere else.
    for (int y = 0; y < 200; ++y) {
      for (int x = 0; x < 300; ++x) {
        if (std::hypot(x - 230, y - 118) > 24) QCOMPARE(after.at(x, y)[3], before.at(x, y)[3]);
      }
    }
    // While it is cut it is shown unbent, in its own px.
    app::View own;
    own.onlyLayer = {1};
    const scene::Scene alone = app::sceneFor(w.scene(), own);
    QVERIFY(!alone.layers[0]->picture()->warp);
  }
};
HSEAM_TEST(KeepingTest);
#include "keeping_test.moc"
