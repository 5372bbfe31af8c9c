#include "app/document/session.h"

#include <QSignalSpy>

#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::app;

namespace {

scene::Layer colourLayer(std::uint64_t id, double grey) {
  scene::Layer l;
  l.id = {id};
  l.name = "colour " + std::to_string(id);
  l.content = scene::FillContent{scene::SolidFill{{grey, grey, grey}}, nullptr};
  return l;
}

scene::History empty() {
  scene::Scene s;
  s.canvas = {64, 48};
  return scene::History({s, "new scene", 0, {}});
}

}  // namespace

// Without any window or file.
class SessionTest : public QObject {
  Q_OBJECT
 private slots:
  void stepsAreKeptInOrder() {
    Messages messages;
    Session session(test::memory(), messages);
    QStringList kept;
    session.take(empty(),
                 {[&](const scene::Step& s, int after) { kept << QString::fromStdString(s.label) + QString::number(after); },
                  [&](int current) { kept << QStringLiteral("to %1").arg(current); }});
    QVERIFY(session.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    session.undo();
    session.redo();
    QCOMPARE(kept.size(), 3);
    QVERIFY(kept[0].endsWith(QStringLiteral("0")));
    QCOMPARE(kept.mid(1), QStringList({QStringLiteral("to 0"), QStringLiteral("to 1")}));
  }
  void twoLiveSideBySide() {
    Messages messages;
    Session a(test::memory(), messages), b(test::memory(), messages);
    a.take(empty(), {});
    b.take(empty(), {});
    QVERIFY(a.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    QCOMPARE(a.scene().layers.size(), std::size_t(1));
    QCOMPARE(b.scene().layers.size(), std::size_t(0));
  }
  void aDraftShowsAndIsNotKept() {
    Messages messages;
    Session session(test::memory(), messages);
    int kept = 0;
    session.take(empty(), {[&](const scene::Step&, int) { ++kept; }, {}});
    QVERIFY(session.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    session.draft(scene::SetOpacity{{1}, 0.5});
    QCOMPARE(session.shown().layers[0]->opacity, 0.5);
    QCOMPARE(session.scene().layers[0]->opacity, 1.0);
    session.draft(std::nullopt);
    QCOMPARE(session.shown().layers[0]->opacity, 1.0);
    QCOMPARE(kept, 1);
  }
  void whatChangedMeanwhileIsNotOverwritten() {
    Messages messages;
    Session session(test::memory(), messages);
    QSignalSpy refused(&messages, &Messages::refused);
    session.take(empty(), {});
    QVERIFY(session.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    const scene::Scene from = session.scene();
    QVERIFY(session.apply(scene::SetOpacity{{1}, 0.25}));
    QVERIFY(!session.applyResult(scene::SetOpacity{{1}, 0.75}, from));
    QCOMPARE(refused.size(), 1);
    QCOMPARE(session.scene().layers[0]->opacity, 0.25);
  }
  void whatIsOnlyLookedAtStays() {
    Messages messages;
    Session session(test::memory(), messages);
    QSignalSpy refused(&messages, &Messages::refused);
    session.take(empty(), {}, QStringLiteral("only for looking"));
    QVERIFY(!session.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    QCOMPARE(refused.size(), 1);
    QCOMPARE(refused[0][0].toString(), QStringLiteral("only for looking"));
  }
  void anotherHistoryStartsAfresh() {
    Messages messages;
    Session session(test::memory(), messages);
    session.take(empty(), {});
    QVERIFY(session.apply(scene::AddLayer{colourLayer(1, 0.2), {}, -1}));
    QSignalSpy replaced(&session, &Session::replaced);
    session.take(empty(), {});
    QCOMPARE(replaced.size(), 1);
    QCOMPARE(session.active().value, std::uint64_t(0));
    QVERIFY(!session.history().canUndo());
  }
};
HSEAM_TEST(SessionTest);
#include "session_test.moc"
