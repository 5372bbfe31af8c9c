#include "app/stations/hand_over/parcels.h"

#include <QCheckBox>
#include <QComboBox>
#include <QSettings>
#include <QSpinBox>

#include "app/window.h"
#include "full_disk.h"
#include "test_main.h"

using namespace hseam;

// Four files at once, one of which cannot be written.
class ParcelsTest : public QObject {
  Q_OBJECT

 private slots:
  void oneThatFailsHoldsNoneUp() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("sky.png")), out = dir.filePath(QStringLiteral("out"));
    test::must(image::writeTiled(file.toStdString(),
                                 test::picture(400, 300, 3, [](int x, int y, int) { return (x * 5 + y * 3) % 200; })));
    QVERIFY(QDir().mkpath(out));
    test::Window w({1280, 800});
    w.workspace().newScene({50, 50});
    w.open({file});
    scene::Permission nobody;
    nobody.nobodySeen = true;
    w.desk().session.apply(scene::SetPermission{{1}, nobody});
    w.goTo(test::kHandOver);
    w.openPage("parcels");
    auto* page = w->findChild<app::Parcels*>();
    const auto box = [&](const char* name) { return w.find<QCheckBox>(QLatin1String(name)); };
    for (const char* name : {"web", "print", "cut-out", "layered"}) box(name)->setChecked(true);
    box("own")->setChecked(false);
    w.find<QSpinBox>(QStringLiteral("Long side of web"))->setValue(200);
    w.find<QSpinBox>(QStringLiteral("Most weight of web"))->setValue(12);
    // Where the print is to go a folder stands already.
    const QString title = w.desk().session.title();
    QVERIFY(QDir().mkpath(out + QStringLiteral("/%1-print.tif").arg(title)));
    w.find<QCheckBox>(QStringLiteral("replace files of these names"))->setChecked(true);
    page->sendTo(out);
    w.settle();
    const auto state = [&](const char* name) {
      return w.find<QLabel>(QStringLiteral("State of ") + QLatin1String(name))->text();
    };
    QVERIFY2(state("web").startsWith(QStringLiteral("200 × 150 px")), qPrintable(state("web")));
    QVERIFY2(state("print").contains(QStringLiteral("cannot")), qPrintable(state("print")));
    QVERIFY(state("cut-out").startsWith(QStringLiteral("400 × 300 px")) && state("layered").startsWith(QStringLiteral("400")));
    QVERIFY(QFileInfo(out + QStringLiteral("/%1-web.jpg").arg(title)).size() <= 12'000);
    for (const char* name : {"-cut-out.png", "-layers.ora"})
      QVERIFY(QFile::exists(out + QLatin1Char('/') + title + QLatin1String(name)));
    // As set beside it, also where that is OpenRaster; one picture is no composite.
    QVERIFY(test::must(image::readMetadata((out + QLatin1Char('/') + title + QStringLiteral("-web.jpg")).toStdString()))
                .sourceType.empty());
    for (const char* name : {"web", "print", "cut-out", "layered"}) box(name)->setChecked(false);
    box("own")->setChecked(true);
    for (auto* kinds : w->findChildren<QComboBox*>()) {
      if (kinds->accessibleName() == QStringLiteral("Kind of file"))
        kinds->setCurrentText(QStringLiteral("OpenRaster, with layers"));
    }
    page->sendTo(out);
    w.settle();
    QVERIFY2(QFile::exists(out + QLatin1Char('/') + title + QStringLiteral("-copy.ora")), qPrintable(state("own")));
    box("web")->setChecked(true);
    // Without leave nothing is replaced.
    w.find<QCheckBox>(QStringLiteral("replace files of these names"))->setChecked(false);
    page->sendTo(out);
    w.settle();
    QVERIFY2(state("web").contains(QStringLiteral("there is a file")), qPrintable(state("web")));
  }
  // The disk is full at the second and the third of four: that is told, nothing half is left, and the rest is done.
  void aFullDiskHoldsNoneOfTheOthersUp() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("noise.png")), out = dir.filePath(QStringLiteral("out"));
    test::Noise noise(5);
    test::must(
        image::writeTiled(file.toStdString(), test::picture(400, 300, 3, [&](int, int, int) { return noise.below(256); })));
    QVERIFY(QDir().mkpath(out));
    test::Window w({1280, 800});
    w.workspace().newScene({50, 50});
    w.open({file});
    scene::Permission nobody;
    nobody.nobodySeen = true;
    w.desk().session.apply(scene::SetPermission{{1}, nobody});
    w.goTo(test::kHandOver);
    w.openPage("parcels");
    auto* page = w->findChild<app::Parcels*>();
    for (const char* name : {"web", "print", "cut-out", "own"}) w.find<QCheckBox>(QLatin1String(name))->setChecked(true);
    w.find<QCheckBox>(QStringLiteral("layered"))->setChecked(false);
    w.find<QSpinBox>(QStringLiteral("Long side of web"))->setValue(120);
    for (auto* kinds : w->findChildren<QComboBox*>()) {
      if (kinds->accessibleName() == QStringLiteral("Kind of file")) kinds->setCurrentText(QStringLiteral("JPEG"));
    }
    w.settle();
    {
      const test::FullDisk full(330'000);
      page->sendTo(out);
      w.settle();
    }
    const auto state = [&](const char* name) {
      return w.find<QLabel>(QStringLiteral("State of ") + QLatin1String(name))->text();
    };
    QVERIFY2(state("web").startsWith(QStringLiteral("120 × 90 px")), qPrintable(state("web")));
    QVERIFY2(state("own").startsWith(QStringLiteral("400 × 300 px")), qPrintable(state("own")));
    for (const char* name : {"print", "cut-out"}) QVERIFY2(state(name).contains(QStringLiteral("disk")), qPrintable(state(name)));
    const QStringList files = QDir(out).entryList(QDir::Files);
    QVERIFY2(files.size() == 2 && files.filter(QStringLiteral(".jpg")).size() == 2, qPrintable(files.join(QLatin1Char(' '))));
  }
};

HSEAM_TEST(ParcelsTest);
#include "parcels_test.moc"
