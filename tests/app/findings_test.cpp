#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QPushButton>

#include "app/sheet/card.h"
#include "app/stations/look_over.h"
#include "app/stations/numbers_beside.h"
#include "truth/planted.h"
#include "window.h"

using namespace hseam;

// What gives the picture away, walked through, mended and answered in the window.
class FindingsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  app::LookOver& over(test::Window& w) { return *qobject_cast<app::LookOver*>(&w->station(test::kLookOver)); }
  // Until the findings are those of the scene as it is.
  void read(test::Window& w) {
    w.settle();
    QTRY_VERIFY_WITH_TIMEOUT(over(w).watch().isOfNow(), 60'000);
    w.settle();
  }
  const findings::Report& report(test::Window& w) { return *over(w).watch().report(); }
  const findings::Verdict* find(test::Window& w, const char* kind) {
    for (const auto& v : report(w).findings) {
      if (v.kind == kind) return &v;
    }
    return nullptr;
  }
  // A picture cut and put back with loose pieces beside it.
  void begin(test::Window& w) {
    const auto photo = truth::photoFrom(test::demoPicture("lamplighter.jpg").toStdString(), 700);
    const auto p = truth::spoilt(photo, 3, "leftovers", 6, true);
    w.desk().newScene(p.scene.canvas);
    for (const auto& l : p.scene.layers) w.desk().apply(scene::AddLayer{*l, {}, -1});
    w.settle();
  }

 private slots:
  void findingsAreWalkedMendedAndAnswered() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    read(w);
    const auto* left = find(w, "leftovers");
    QVERIFY(left);
    const double before = report(w).tightness;
    const std::size_t count = report(w).findings.size();
    // By keys to the finding.
    for (std::size_t i = 0; i <= count; ++i) {
      QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
      w.settle();
      const int chosen = over(w).findings().chosen();
      QVERIFY(chosen >= 0);
      if (report(w).findings[std::size_t(chosen)].kind == "leftovers") break;
    }
    QCOMPARE(report(w).findings[std::size_t(over(w).findings().chosen())].kind, std::string("leftovers"));
    QCOMPARE(w.desk().document().active(), scene::LayerId{2});
    // Resting on the remedy shows it; nothing is kept yet.
    auto* remedy = w.find<QPushButton>(QStringLiteral("Take the loose pieces out and close the holes"));
    const auto kept = w.scene().layers[1]->mask.coverage.stamp();
    QEvent enter(QEvent::Enter);
    QCoreApplication::sendEvent(remedy, &enter);
    w.settle();
    QVERIFY(w.desk().document().shown().layers[1]->mask.coverage.stamp() != kept);
    QCOMPARE(w.scene().layers[1]->mask.coverage.stamp(), kept);
    QEvent leave(QEvent::Leave);
    QCoreApplication::sendEvent(remedy, &leave);
    w.settle();
    QCOMPARE(w.desk().document().shown().layers[1]->mask.coverage.stamp(), kept);
    // A click applies it; the reading is taken anew.
    w.click(QStringLiteral("Take the loose pieces out and close the holes"));
    read(w);
    QVERIFY(!find(w, "leftovers"));
    QVERIFY(report(w).tightness > before);
    w.desk().document().undo();
    read(w);
    QVERIFY(find(w, "leftovers"));

    // Accepted with a reason it is quiet, and stays so in the file.
    for (std::size_t i = 0;
         i <= count && report(w).findings[std::size_t(std::max(0, over(w).findings().chosen()))].kind != "leftovers"; ++i) {
      over(w).findings().step(1);
      w.settle();
    }
    w.type(w.find<QLineEdit>(QStringLiteral("Reason for accepting")), QStringLiteral("sparks of the lantern"));  // Return accepts
    read(w);
    QVERIFY(!find(w, "leftovers"));
    QVERIFY(w.scene().judging && w.scene().judging->answered.size() == 1);
    QCOMPARE(w.scene().judging->answered[0].reason, std::string("sparks of the lantern"));
    const QString file = dir_.filePath(QStringLiteral("answered.hseam"));
    w.saveAs(file);
    read(w);
    for (const char* ending : {"html", "pdf", "json"})
      over(w).findings().writeReport(dir_.filePath(QStringLiteral("report.%1").arg(QLatin1String(ending))));
    w.settle();
    QFile page(dir_.filePath(QStringLiteral("report.html")));
    QVERIFY(page.open(QIODevice::ReadOnly));
    const QByteArray text = page.readAll();
    QVERIFY(text.contains("Tightness") && text.contains("leftovers"));
    QFile pdf(dir_.filePath(QStringLiteral("report.pdf")));
    QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.read(5) == "%PDF-");
    QVERIFY(QFile::exists(dir_.filePath(QStringLiteral("report.json"))));
    test::Window again;
    again.open({file});
    again.goTo(test::kLookOver);
    read(again);
    QVERIFY(!find(again, "leftovers"));
    QVERIFY(again.scene().judging && again.scene().judging->answered[0].reason == "sparks of the lantern");
  }
  // Cards say how many there are, the numbers beside them are the subject's, strictness changes what is out and is undone, and
  // the marks become a layer that is not judged itself.
  void theProjectSaysHowItIsJudged() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    read(w);
    const auto cards = w->findChildren<app::Card*>();
    QVERIFY(std::any_of(cards.begin(), cards.end(),
                        [](const app::Card* c) { return c->accessibleDescription().contains(QStringLiteral("finding")); }));
    const auto* numbers = w->findChild<app::NumbersBeside*>();
    QVERIFY(numbers && numbers->isVisible() && numbers->accessibleName().contains(QStringLiteral("subject")));
    QVERIFY(report(w).numbers.size() == 1 &&
            report(w).numbers[0].own.lightness.back() > report(w).numbers[0].own.lightness.front());
    auto* sets = w.find<QComboBox>(QStringLiteral("Tolerances"));
    const auto choose = [&](const QString& name) {
      const int at = sets->findText(name);
      QVERIFY(at >= 0);
      sets->setCurrentIndex(at);
      emit sets->activated(at);
    };
    choose(QStringLiteral("strict, for large prints"));
    QVERIFY(w.scene().judging && w.scene().judging->tolerances == "strict");
    QVERIFY(std::abs(w.scene().judging->tolerance.at("black_point") - 1.8) < 1e-9);
    QVERIFY(std::abs(w.scene().judging->tolerance.at("grain") - std::pow(1.4, 0.6)) < 1e-9);
    read(w);
    const std::size_t strict = report(w).findings.size();
    choose(QStringLiteral("easy, for small pictures"));
    read(w);
    QVERIFY(report(w).findings.size() <= strict);
    w.desk().document().undo();
    w.desk().document().undo();
    read(w);
    QVERIFY(!w.scene().judging || w.scene().judging->tolerances == "usual");
    const std::size_t judged = report(w).layers.size(), layers = w.scene().layers.size();
    w.click(QStringLiteral("Marks as a layer"));
    read(w);
    QCOMPARE(w.scene().layers.size(), layers + 1);
    QCOMPARE(w.scene().layers.back()->name, std::string("marks of findings"));
    QCOMPARE(report(w).layers.size(), judged);
  }
};
HSEAM_TEST(FindingsTest);
#include "findings_test.moc"
