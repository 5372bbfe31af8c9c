// What shines is drawn round, mirrors the place, and is made anew with other values.

#include <QDoubleSpinBox>
#include <QPushButton>

#include "app/two_pictures.h"

using namespace hseam;

class GlossInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

 private slots:
  void aPaneIsDrawnRoundAndMirrors() {
    test::Window w;
    beginWith(w, test::kMatch, "gloss");
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Let it mirror the place"))->isEnabled());
    const auto count = w.scene().layers.size();
    QList<QPointF> round;
    for (int k = 0; k <= 24; ++k) round << QPointF(200 + 45 * std::cos(k * M_PI / 12), 160 + 45 * std::sin(k * M_PI / 12));
    w.drag(Qt::LeftButton, round);
    w.click(QStringLiteral("Let it mirror the place"));
    QCOMPARE(w.scene().layers.size(), count + 1);
    const scene::Layer& made = layer(w, "gloss of subject");
    QVERIFY(made.clip && made.mode == scene::BlendMode::screen && std::abs(made.opacity - 0.35) < 1e-9);
    const auto id = made.id;
    // Stronger, as one step instead of the one before.
    const int at = w.desk().session.history().current();
    w.find<QDoubleSpinBox>(QStringLiteral("strength"))->setValue(80);
    w.click(QStringLiteral("Let it mirror the place"));
    QCOMPARE(w.scene().layers.size(), count + 1);
    QCOMPARE(w.desk().session.history().current(), at + 1);
    QVERIFY(std::abs(layer(w, "gloss of subject").opacity - 0.8) < 1e-9);
    w.desk().session.undo();
    QVERIFY(scene::findLayer(w.scene(), id) && std::abs(layer(w, "gloss of subject").opacity - 0.35) < 1e-9);
    w.desk().session.undo();
    QCOMPARE(w.scene().layers.size(), count);
  }
};

HSEAM_TEST(GlossInTheWindowTest);
#include "gloss_in_the_window_test.moc"
