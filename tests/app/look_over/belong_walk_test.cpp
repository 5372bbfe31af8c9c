// Two bare pictures to a scene that holds: guessed, cut, placed, one question answered, made to belong; in the window alone.

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>

#include "app/stations/look_over/look_over.h"
#include "app/window.h"

using namespace hseam;

class BelongWalkTest : public QObject {
  Q_OBJECT

  app::LookOver& over(test::Window& w) { return *qobject_cast<app::LookOver*>(&w->station(test::kLookOver)); }
  void read(test::Window& w) {
    w.settle();
    QTRY_VERIFY_WITH_TIMEOUT(over(w).watch().isOfNow(), 120'000);
    w.settle();
  }

 private slots:
  void twoPicturesBecomeOneScene() {
    test::Window w;
    w.open({test::demoPicture("pier.jpg"), test::demoPicture("lamplighter.jpg")});
    const scene::LayerId figure = w.scene().layers[1]->id;
    w.choose(QStringLiteral("lamplighter"));
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    w.click(QStringLiteral("Find the band"));
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    w.goTo(test::kPlace);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("scale")), QStringLiteral("62"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the left")), QStringLiteral("560"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the top")), QStringLiteral("190"));

    w.goTo(test::kLookOver);
    read(w);
    const auto tightness = [&] {
      for (const auto& l : over(w).watch().report()->layers) {
        if (l.layer == figure) return l.tightness;
      }
      return 0.0;
    };
    const double pasted = tightness();
    QVERIFY2(pasted < 60, qPrintable(QString::number(pasted)));
    // The one question, answered on the picture: the horizon of the pier's own camera lies at 896.
    QCOMPARE(over(w).nextStep().what, QStringLiteral("Where does the floor lie?"));
    QTest::keyClick(&w.get(), Qt::Key_Return, Qt::ControlModifier);
    w.settle();
    w.drag(Qt::LeftButton, {{1500, 750}, {1500, 800}, {1500, 896}});
    QVERIFY(w.scene().floor && std::abs(w.scene().floor->horizonY - 896) < 4);
    w.choose(QStringLiteral("lamplighter"));
    w.goTo(test::kLookOver);
    read(w);
    w.click(QStringLiteral("Make it belong"));
    read(w);
    qInfo("tightness %.0f -> %.0f", pasted, tightness());
    QVERIFY2(tightness() > 85, qPrintable(QString::number(tightness())));
    // He stands on the planks now, and one undo takes all of it back.
    QVERIFY(std::any_of(w.scene().layers.begin(), w.scene().layers.end(),
                        [](const scene::LayerRef& l) { return l->name == "contact of lamplighter"; }));
    const std::size_t layers = w.scene().layers.size();
    QTest::keyClick(&w.get(), Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(layers > 3);
  }
};
HSEAM_TEST(BelongWalkTest);
#include "belong_walk_test.moc"
