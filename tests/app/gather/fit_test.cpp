#include "app/two_pictures.h"
#include "core/image/picture_file.h"

using namespace hseam;

// What fits is said when a second picture comes in, and ranked with reasons; the horizon is found in the picture.
class FitInTheWindowTest : public test::TwoPictures {
  Q_OBJECT
 private slots:
  void picturesAreRankedWithReasons() {
    test::Window w;
    beginWith(w, test::kGather, "fit");
    // Two of known cameras.
    w.desk().session.apply(scene::SetOwnHorizon{layer(w, "ground").id, 40.0});
    w.desk().session.apply(scene::SetOwnHorizon{layer(w, "subject").id, 230.0});
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kGather);
    w.openPage("fit");
    w.settle();
    auto* ranking = w.find<QLabel>(QStringLiteral("Pictures by how well they fit, the best first"));
    QVERIFY2(ranking->text().contains(QStringLiteral("1. ground")), qPrintable(ranking->text()));
    QVERIFY2(ranking->text().contains(QStringLiteral("the horizons differ")), qPrintable(ranking->text()));
    QVERIFY(w.labelThatBegins(QStringLiteral("subject: horizon at 72 %")));
  }
  void theHorizonIsFoundInThePictureOrSaidNotToBe() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({QStringLiteral(HSEAM_STANDING "/quay-noon-crates/ground.jpg")});
    w.goTo(test::kPlace);
    w.openPage("floor");
    // It is shown where the lines tell it, and dragged from there.
    w.settle();
    QVERIFY(w.labelThatBegins(QStringLiteral("Lies where ")));
    QVERIFY(!w.scene().floor);
    w.drag(Qt::LeftButton, {QPointF(450, 177), QPointF(450, 197)});
    QVERIFY(w.scene().floor && std::abs(w.scene().floor->horizonY - 196.8) < 3);
    w.desk().session.undo();
    w.settle();
    w.click(QStringLiteral("The horizon lies there"));
    QVERIFY(w.scene().floor && std::abs(w.scene().floor->horizonY - 176.8) < 3);
    w.desk().session.undo();
    w.settle();
    w.click(QStringLiteral("Find it in the picture"));
    QVERIFY(w.scene().floor && std::abs(w.scene().floor->horizonY - 176.8) < 3);
    w.desk().session.undo();
    w.settle();
    QVERIFY(!w.scene().floor);
    test::Window other;
    beginWith(other, test::kPlace, "floor");
    other.click(QStringLiteral("Find it in the picture"));
    QVERIFY(!other.scene().floor);
    QVERIFY(other.labelThatBegins(QStringLiteral("The horizon can't be told")));
  }
  void whatIsMeasuredStandsBesideWhatTheFileSays() {
    test::Window w;
    beginWith(w, test::kGather, "about");
    w.choose(QStringLiteral("ground"));
    w.openPage("about");
    w.settle();
    QCOMPARE(w.find<QLabel>(QStringLiteral("Size"))->text().left(9), QStringLiteral("640 × 480"));
    QVERIFY(w.find<QLabel>(QStringLiteral("Middle tone"))->text().startsWith(QStringLiteral("L* 5")));
    QVERIFY(w.find<QLabel>(QStringLiteral("Clipped"))->text().contains(QStringLiteral("highlights")));
    QCOMPARE(w.find<QLabel>(QStringLiteral("Horizon"))->text(), QStringLiteral("can't tell"));
  }
};

HSEAM_TEST(FitInTheWindowTest);
#include "fit_test.moc"
