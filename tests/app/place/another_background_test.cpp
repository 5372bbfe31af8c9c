#include <QCheckBox>
#include <QComboBox>

#include "app/window.h"
#include "core/render/renderer.h"
#include "test_main.h"

using namespace hseam;

// The background of a picture is changed in one step.
class AnotherBackgroundTest : public QObject {
  Q_OBJECT
 private slots:
  void anotherBackgroundInOneStep() {
    const test::SmallPictures small;
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({small.subject});
    w.goTo(test::kPlace);
    w.openPage("another-background");
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Put it behind"))->isEnabled());  // there is no other picture yet
    w.open({small.ground});
    w.choose(QStringLiteral("subject"));
    w.openPage("another-background");
    QCOMPARE(w.find<QComboBox>(QStringLiteral("The other background"))->currentText(), QStringLiteral("ground"));
    const int steps = w.desk().session.history().current();
    w.click(QStringLiteral("Put it behind"));
    QCOMPARE(w.desk().session.history().current(), steps + 1);
    const auto s = test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    // The disc is there, the paper is gone, and no corner of the canvas is bare.
    QVERIFY(s.at(200, 160)[0] > 0.6f && s.at(200, 160)[1] < 0.4f);
    for (const auto& [x, y] : {std::pair(6, 6), std::pair(393, 6), std::pair(6, 313), std::pair(393, 313)})
      QVERIFY2(s.at(x, y)[3] > 0.99f && s.at(x, y)[0] < 0.75f, qPrintable(QString::number(double(s.at(x, y)[0]))));
    QVERIFY(w.labelThatBegins(QStringLiteral("The subject was guessed and cut out")));
    w.desk().session.undo();
    for (const auto& l : w.scene().layers) QVERIFY(l->mask.coverage.isNull());
  }
};
HSEAM_TEST(AnotherBackgroundTest);
#include "another_background_test.moc"
