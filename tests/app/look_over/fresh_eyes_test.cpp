// Coming back to a picture: it is seen mirrored for a moment, what was done since is told, and how it was can be seen again.

#include "app/stations/look_over/fresh_eyes.h"

#include <QCheckBox>
#include <QLabel>

#include "app/document/rest.h"
#include "app/stations/look_over/look_over.h"
#include "app/window.h"
#include "core/store/project_file.h"

using namespace hseam;

class FreshEyesTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

 private slots:
  void pausesAreNoticedAndLongWorkIsToldOf() {
    app::Rest rest;
    QList<int> back, told;
    connect(&rest, &app::Rest::cameBack, this, [&](int m) { back << m; });
    connect(&rest, &app::Rest::longAtIt, this, [&](int m) { told << m; });
    app::Rest::setReminds(true);
    constexpr qint64 kMinute = 60'000;
    qint64 now = 1'700'000'000'000;
    for (int minute = 0; minute <= 100; ++minute) rest.noteActivity(now += kMinute);
    QCOMPARE(told, (QList<int>{45, 90}));
    QVERIFY(back.isEmpty());
    rest.noteActivity(now += 25 * kMinute);
    QCOMPARE(back, QList<int>{25});
    // The pause counts: the time at it begins anew; and it can be switched off.
    app::Rest::setReminds(false);
    for (int minute = 0; minute <= 60; ++minute) rest.noteActivity(now += kMinute);
    QCOMPARE(told.size(), 2);
    app::Rest::setReminds(true);
  }
  void theLastVisitIsSeenAgain() {
    test::Window w;
    w.workspace().newScene({300, 200});
    // Two visits with an hour in between, as a project keeps them.
    scene::Scene first;
    first.canvas = {300, 200};
    scene::Layer plate;
    plate.id = {1};
    plate.name = "plate";
    scene::PictureContent p;
    p.source = test::picture(300, 200, 3, [](int, int, int) { return 100; });
    plate.content = std::move(p);
    first.layers = {std::make_shared<const scene::Layer>(std::move(plate))};
    scene::Scene second = test::must(scene::apply(first, scene::SetOpacity{{1}, 0.5}));
    const QString path = dir_.filePath(QStringLiteral("visits.hseam"));
    {
      const qint64 hour = 3'600'000, now = QDateTime::currentMSecsSinceEpoch();
      auto made =
          test::must(store::ProjectFile::create(path.toStdString(), first, "the beginning", test::memory(), test::here()));
      QVERIFY(made.file->keep({first, "a step of the first visit", now - 2 * hour}, "test", 0).ok());
      QVERIFY(made.file->keep({second, "opacity of plate", now}, "test", 1).ok());
    }
    w.open({path});
    w.goTo(test::kLookOver);
    w.openPage("fresh");
    w.settle();
    auto& over = *qobject_cast<app::LookOver*>(&w->station(test::kLookOver));
    const auto labels = over.freshEyes().findChildren<QLabel*>();
    QVERIFY(std::any_of(labels.begin(), labels.end(),
                        [](const QLabel* l) { return l->text().contains(QStringLiteral("opacity of plate")); }));
    // As it was, left of the curtain, and what differs.
    w.click(QStringLiteral("left of the curtain"));
    QVERIFY(over.before() && over.before()->layers[0]->opacity == 1);
    w.click(QStringLiteral("left of the curtain"));
    w.click(QStringLiteral("the difference to it, four times"));
    QVERIFY(over.view().against);
    w.settle();
    QVERIFY(w->canvas().grab().toImage().pixelColor(w->canvas().rect().center()).red() > 60);
    w.desk().session.undo();
    w.settle();
    // Mirrored for a moment, then as it is.
    w.click(QStringLiteral("Look anew"));
    const auto mirrored = [&] { return w->canvas().toWidget().m11() < 0; };
    QVERIFY(mirrored());
    QTRY_VERIFY_WITH_TIMEOUT(!mirrored(), 6000);
    // Somebody comes back after half an hour.
    w->rest().noteActivity(QDateTime::currentMSecsSinceEpoch());
    w->rest().noteActivity(QDateTime::currentMSecsSinceEpoch() + 30 * 60'000);
    QTRY_VERIFY(mirrored());
    QTRY_VERIFY_WITH_TIMEOUT(!mirrored(), 6000);
  }
  void theSceneIsSeenSmallAmongItsPictures() {
    test::Window w;
    w.workspace().newScene({300, 200});
    scene::Layer l;
    l.id = {1};
    scene::PictureContent p;
    p.source = test::picture(300, 200, 3, [](int x, int, int c) { return c == 0 && x < 150 ? 220 : 40; });
    l.content = std::move(p);
    QVERIFY(w.desk().session.apply(scene::AddLayer{std::move(l), {}, -1}));
    w.goTo(test::kLookOver);
    w.openPage("eyes");
    w.settle();
    const auto* small = w->findChild<app::SmallAmong*>();
    QTRY_VERIFY_WITH_TIMEOUT(!small->scenePicture().isNull(), 10'000);
    QCOMPARE(small->scenePicture().width(), 180);
    QVERIFY(small->scenePicture().pixelColor(40, 60).red() > 200 && small->scenePicture().pixelColor(140, 60).red() < 60);
    // Another scene, another small one.
    QVERIFY(w.desk().session.apply(scene::SetHidden{w.scene().layers[0]->id, true}));
    QTRY_VERIFY_WITH_TIMEOUT(small->scenePicture().pixelColor(40, 60).red() < 180, 10'000);
  }
};

HSEAM_TEST(FreshEyesTest);
#include "fresh_eyes_test.moc"
