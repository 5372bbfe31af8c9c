#include <QCheckBox>
#include <QLineEdit>

#include "app/stations/hand_over/write_copy.h"
#include "app/window.h"
#include "test_main.h"

using namespace hseam;

// Who is seen, until when, and the question before anything leaves the house.
class PermissionInTheWindowTest : public QObject {
  Q_OBJECT

 private slots:
  void handingOverAsksForWhatIsNotNoted() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("crowd.png")), out = dir.filePath(QStringLiteral("out.png"));
    test::must(image::writeTiled(file.toStdString(), test::picture(120, 90, 3, [](int x, int, int) { return x; })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({file});
    w.goTo(test::kHandOver);
    auto* copy = w->findChild<app::WriteCopy*>();
    const QPushButton* go = nullptr;
    for (const QPushButton* b : copy->findChildren<QPushButton*>()) {
      if (b->text() == QStringLiteral("Write the file…")) go = b;
    }
    QVERIFY(go);
    auto* word = w.find<QLineEdit>(QStringLiteral("Type permitted to hand it over all the same"));
    QVERIFY(word->isVisible() && !go->isEnabled());
    const auto listed = [&] {
      return w.find<QLabel>(QStringLiteral("What stands against handing over"))->text().section(QLatin1Char('\n'), 1);
    };
    QCOMPARE(listed(), QStringLiteral("crowd: no permission is noted"));
    w.type(word, QStringLiteral("Permitted"));
    QVERIFY(go->isEnabled());
    // It is asked again after each file.
    copy->write(out);
    w.settle();
    QVERIFY(QFile::exists(out) && word->text().isEmpty() && !go->isEnabled());
    // Noted in Gather it is not asked any more, unless it has ended or minors are seen.
    w.goTo(test::kGather);
    w.openPage("permission");
    w.type(w.find<QLineEdit>(QStringLiteral("who")), QStringLiteral("a choir"));
    w.type(w.find<QLineEdit>(QStringLiteral("until")), QStringLiteral("2020-01-31"));
    QCOMPARE(scene::findLayer(w.scene(), {1})->picture()->permission->until, std::string("2020-01-31"));
    w.goTo(test::kHandOver);
    QCOMPARE(listed(), QStringLiteral("crowd: its permission ended on 2020-01-31"));
    w.goTo(test::kGather);
    w.type(w.find<QLineEdit>(QStringLiteral("until")), QStringLiteral("2120-02-30"));  // no such day: not taken
    QCOMPARE(scene::findLayer(w.scene(), {1})->picture()->permission->until, std::string("2020-01-31"));
    w.type(w.find<QLineEdit>(QStringLiteral("until")), QStringLiteral("2120-01-31"));
    w.goTo(test::kHandOver);
    QVERIFY(!word->isVisible() && go->isEnabled());
    w.goTo(test::kGather);
    w.find<QCheckBox>(QStringLiteral("children or young people are seen"))->click();
    w.goTo(test::kHandOver);
    QVERIFY(word->isVisible() && !go->isEnabled());
    w.desk().session.undo();
    w.settle();
    QVERIFY(!word->isVisible() && go->isEnabled());
    // Kept with the project.
    w.saveAs(dir.filePath(QStringLiteral("choir.hseam")));
    test::Window again;
    again.open({dir.filePath(QStringLiteral("choir.hseam"))});
    QCOMPARE(again.scene().layers[0]->picture()->permission->who, std::string("a choir"));
  }
};

HSEAM_TEST(PermissionInTheWindowTest);
#include "permission_in_the_window_test.moc"
