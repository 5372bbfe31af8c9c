// Before and after as one picture, weighed and written.

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>

#include "app/stations/hand_over/write_copy.h"
#include "app/two_pictures.h"
#include "core/image/colour_profile.h"

using namespace hseam;

class PlateInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

 private slots:
  void thePlateIsWeighedAndWritten() {
    test::Window w;
    beginWith(w, test::kHandOver, "write");
    const base::Size canvas = w.scene().canvas;
    auto* weight = w.find<QLabel>(QStringLiteral("Size and weight of the file"));
    auto* plate = w.find<QCheckBox>(QStringLiteral("before and after beside each other"));
    QTRY_VERIFY(weight->text().startsWith(QStringLiteral("%1 × %2 px").arg(canvas.width).arg(canvas.height)) &&
                !weight->text().contains(QStringLiteral("weighing")));
    plate->click();
    // Its own size is told, as wide as both and a gap.
    const auto told = [&] { return weight->text().section(QLatin1Char(' '), 0, 0).toInt(); };
    QTRY_VERIFY(told() > 2 * canvas.width);
    const int wide = told();
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("plate.jpg"));
    w->findChild<app::WriteCopy*>()->write(file);
    w.settle();
    QTRY_VERIFY(QFile::exists(file));
    w.settle();
    QCOMPARE(test::must(image::readPicture(file.toStdString(), test::memory(), test::here(), {})).pixels.size().width, wide);
    // Layers have no plate.
    w.find<QComboBox>(QStringLiteral("Kind of file"))->setCurrentIndex(5);
    QVERIFY(!plate->isEnabled());
  }
  void anotherProfileIsUsedOrRefused() {
    test::Window w;
    beginWith(w, test::kHandOver, "write");
    auto* page = w->findChild<app::WriteCopy*>();
    auto* profile = w.find<QComboBox>(QStringLiteral("Colour profile of the file"));
    QCOMPARE(profile->currentText(), QStringLiteral("sRGB"));
    const QTemporaryDir dir;
    const QString icc = dir.filePath(QStringLiteral("own.icc"));
    QFile f(icc);
    QVERIFY(f.open(QIODevice::WriteOnly));
    const auto bytes = image::srgbProfile();
    f.write(reinterpret_cast<const char*>(bytes.data()), qint64(bytes.size()));
    f.close();
    QVERIFY(page->useProfile(icc));
    QCOMPARE(profile->currentText(), QStringLiteral("own"));
    QCOMPARE(page->options().profile, icc.toStdString());
    QVERIFY(!page->useProfile(small_.ground));  // a picture is no profile
    QCOMPARE(profile->currentText(), QStringLiteral("own"));
    QVERIFY(page->useProfile({}) && page->options().profile.empty());
    // OpenEXR holds light.
    w.find<QComboBox>(QStringLiteral("Kind of file"))->setCurrentIndex(4);
    QVERIFY(!profile->isEnabled());
  }
};

HSEAM_TEST(PlateInTheWindowTest);
#include "plate_in_the_window_test.moc"
