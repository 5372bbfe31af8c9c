#include "app/stations/gather/ready_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <cmath>

#include "app/two_pictures.h"
#include "app/widgets/level_lines.h"
#include "app/widgets/value_field.h"
#include "core/render/scenes.h"

using namespace hseam;

// A picture is readied in the window: on the histogram, by a clicked grey, from what is measured, like another one.
class ReadyInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

  static tasks::Readying of(test::Window& w) { return tasks::readyingOf(w.scene(), w.desk().session.active()); }

 private slots:
  void tonesOnTheHistogramAndFieldsAreOneStepEach() {
    test::Window w;
    beginWith(w, test::kGather, "ready");
    w.choose(QStringLiteral("subject"));
    w.openPage("ready");
    auto* lines = w->findChild<app::ReadyPage*>()->findChild<app::LevelLines*>();
    QVERIFY(lines && lines->isVisible());
    int steps = w.desk().session.history().current();
    // The darkest line goes to the right by the keys.
    lines->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(lines, Qt::Key_Right, Qt::ShiftModifier);
    w.settle();
    QVERIFY(of(w).ends.black > 0.05);
    QCOMPARE(w.desk().session.history().current(), steps + 3);
    const auto before = test::rendered(w.scene());
    auto* exposure = w.find<QDoubleSpinBox>(QStringLiteral("exposure"));
    exposure->setValue(1);
    w.settle();
    QCOMPARE(of(w).stops, 1.0);
    const auto after = test::rendered(w.scene());
    QVERIFY(after.at(320, 240)[0] > before.at(320, 240)[0] + 0.05f);    // the subject
    QVERIFY(std::abs(after.at(5, 5)[0] - before.at(5, 5)[0]) < 1e-6f);  // not what lies behind it
    w.desk().session.undo();
    QCOMPARE(of(w).stops, 0.0);
  }
  void aClickedGreyAndAsShot() {
    test::Window w;
    beginWith(w, test::kGather, "ready");
    w.choose(QStringLiteral("ground"));  // bluish all over
    w.openPage("ready");
    const auto before = test::rendered(w.scene());
    w.click(QStringLiteral("Click a grey"));
    w.drag(Qt::LeftButton, {QPointF(20, 20), QPointF(20, 20)});
    const auto shown = test::rendered(w.scene());
    const auto tint = [](const image::Raster<float>& r) {
      double red = 0, blue = 0;
      for (int y = 10; y < 30; ++y) {
        for (int x = 10; x < 30; ++x) red += double(r.at(x, y)[0]) / 400, blue += double(r.at(x, y)[2]) / 400;
      }
      return blue - red;
    };
    QVERIFY(of(w).mired > 20);
    QVERIFY2(tint(before) > 0.13 && std::abs(tint(shown)) < 0.015, qPrintable(QString::number(tint(shown))));
    w.click(QStringLiteral("As shot"));
    QVERIFY(of(w).mired == 0 && of(w).tint == 0);
  }
  void oneIsMadeLikeTheOther() {
    test::Window w;
    beginWith(w, test::kGather, "ready");
    w.choose(QStringLiteral("subject"));
    w.openPage("ready");
    const auto aim = test::must(tasks::readyNumbers(w.scene(), layer(w, "ground").id, false, test::here(), {}));
    w.click(QStringLiteral("Make it alike"));
    w.settle();
    const auto got = test::must(tasks::readyNumbers(w.scene(), layer(w, "subject").id, true, test::here(), {}));
    QVERIFY2(std::abs(got.midL - aim.midL) < 6, qPrintable(QStringLiteral("%1 %2").arg(got.midL).arg(aim.midL)));
  }
};

HSEAM_TEST(ReadyInTheWindowTest);
#include "ready_test.moc"
