// Shots that come in while one works.

#include "app/contact/demo_camera.h"

#include <QPushButton>
#include <QSignalSpy>

#include "app/contact/contact_sheet.h"
#include "app/stations/gather/look_through.h"
#include "app/window.h"
#include "as_anyone.h"

using namespace hseam;

class DemoCameraTest : public QObject {
  Q_OBJECT

 private slots:
  void shotsComeOneByOneAndWhole() {
    const QTemporaryDir dir;
    QFile own(dir.filePath(QStringLiteral("own.jpg"))), earlier(dir.filePath(QStringLiteral("SHOT_0099.jpg")));
    QVERIFY(own.open(QIODevice::WriteOnly) && earlier.open(QIODevice::WriteOnly));
    app::DemoCamera camera;
    const QSignalSpy shot(&camera, &app::DemoCamera::shot), ended(&camera, &app::DemoCamera::ended);
    camera.begin(dir.path(), 5);
    // What lay there before stays; what an earlier run left does not.
    QVERIFY(own.exists() && !earlier.exists());
    QTRY_COMPARE(ended.count(), 1);
    QVERIFY(app::DemoCamera::shots().size() >= 8);
    QCOMPARE(shot.count(), int(app::DemoCamera::shots().size()));
    QVERIFY(!camera.shoots() && QDir(dir.path()).entryList({QStringLiteral("*.part")}).isEmpty());
    const auto first = test::must(
        image::readPicture(dir.filePath(QStringLiteral("SHOT_0001.jpg")).toStdString(), test::memory(), test::here(), {}));
    QVERIFY(first.pixels.size().width > 500);
  }
  void aFolderThatCannotBeWrittenIsTold() {
    const QTemporaryDir dir;
    const test::AsAnyone notRoot;
    QFile::setPermissions(dir.path(), QFile::ReadOwner | QFile::ExeOwner);
    app::DemoCamera camera;
    const QSignalSpy refused(&camera, &app::DemoCamera::refused);
    camera.begin(dir.path(), 5);
    QCOMPARE(refused.count(), 1);
    QVERIFY(!camera.shoots());
    QFile::setPermissions(dir.path(), QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
  }
  void theContactSheetFollows() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.goTo(test::kGather);
    w.openPage("look-through");
    w.click(QStringLiteral("Demo camera"));
    auto* page = w->findChild<app::LookThrough*>();
    QTRY_VERIFY(page->sheet().model().rowCount() >= 2);
    w.click(QStringLiteral("Stop the demo camera"));
    QVERIFY(!page->camera().shoots());
  }
};

HSEAM_TEST(DemoCameraTest);
#include "demo_camera_test.moc"
