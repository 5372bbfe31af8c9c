#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/sheet/card.h"
#include "app/stations/look_over/done_to_it.h"
#include "app/stations/look_over/look_over.h"
#include "app/stations/look_over/numbers_beside.h"
#include "app/window.h"
#include "truth/planted.h"

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
      if (findings::keyOf(v.kind) == kind) return &v;
    }
    return nullptr;
  }
  // A picture cut and put back with loose pieces beside it.
  void begin(test::Window& w) {
    const auto photo = truth::photoFrom(test::demoPicture("lamplighter.jpg").toStdString(), 700);
    const auto p = truth::spoilt(photo, 3, "leftovers", 6, true);
    w.workspace().newScene(p.scene.canvas);
    for (const auto& l : p.scene.layers) w.desk().session.apply(scene::AddLayer{*l, {}, -1});
    w.settle();
  }

  // A post that was cut out, on a plain whose horizon nobody has drawn.
  void standOnAPlain(test::Window& w) {
    scene::Layer plain, post;
    plain.id = {1}, plain.name = "plain", post.id = {2}, post.name = "post";
    scene::PictureContent ground, picture;
    ground.source = test::picture(900, 600, 3, [](int x, int y, int) {
      return (y < 220 ? 205.0 : 150.0 + 20 * std::sin(x / 90.0)) + (x * 7 + y * 13) % 9;
    });
    picture.source = test::picture(120, 400, 3, [](int x, int y, int) { return 60.0 + y / 4 + (x * 5 + y * 3) % 9; });
    picture.placement.x = 380, picture.placement.y = 110;
    plain.content = std::move(ground), post.content = std::move(picture);
    post.mask.coverage =
        test::picture(120, 400, 1, [](int x, int y, int) { return x >= 35 && x < 85 && y >= 40 && y < 380 ? 255 : 0; });
    w.workspace().newScene({900, 600});
    w.desk().session.apply(scene::AddLayer{std::move(plain), {}, -1});
    w.desk().session.apply(scene::AddLayer{std::move(post), {}, -1});
    w.settle();
  }

 private slots:
  // Nobody said where the floor lies: it is asked, answered by dragging the line, and not asked again.
  void whereTheFloorLiesIsAskedOnce() {
    test::Window w;
    standOnAPlain(w);
    w.goTo(test::kLookOver);
    read(w);
    const auto* floats = find(w, "contact_shadow");
    QVERIFY(floats && floats->asks == findings::Asks::floor);
    QCOMPARE(over(w).nextStep().what, QStringLiteral("Where does the floor lie?"));
    QTest::keyClick(&w.get(), Qt::Key_Return, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w->currentStation(), int(test::kPlace));
    QVERIFY(w.find<QPushButton>(QStringLiteral("The horizon lies there"))->isVisible());
    w.drag(Qt::LeftButton, {{450, 225}, {450, 222}, {450, 220}});
    QVERIFY(w.scene().floor && std::abs(w.scene().floor->horizonY - 220) < 3);
    QVERIFY(!w.labelThatBegins(QStringLiteral("Where does the floor")));
    w.goTo(test::kLookOver);
    read(w);
    QVERIFY(find(w, "contact_shadow") && find(w, "contact_shadow")->asks == findings::Asks::nothing);
    QVERIFY(over(w).nextStep().what != QStringLiteral("Where does the floor lie?"));
    // Taken back, it is asked anew; where it usually lies is an answer too.
    w.desk().session.undo();
    read(w);
    over(w).nextStep().act();
    w.settle();
    w.click(QStringLiteral("The horizon lies there"));
    QVERIFY(w.scene().floor);
    QCOMPARE(*w.scene().floor, scene::usualFloor(w.scene().canvas));
  }
  void findingsAreWalkedMendedAndAnswered() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    read(w);
    const auto* left = find(w, "leftovers");
    QVERIFY(left);
    const double before = report(w).tightness;
    const QString made = w.find<QLabel>(QStringLiteral("What the tightness is made of"))->text();
    QVERIFY2(made.contains(QStringLiteral("subject %1: ").arg(report(w).layers[0].tightness, 0, 'f', 0)) &&
                 made.contains(QStringLiteral("leftovers −")),
             qPrintable(made));
    const std::size_t count = report(w).findings.size();
    // By keys to the finding.
    for (std::size_t i = 0; i <= count; ++i) {
      QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
      w.settle();
      const int chosen = over(w).findings().chosen();
      QVERIFY(chosen >= 0);
      if (report(w).findings[std::size_t(chosen)].kind == findings::KindId::leftovers) break;
    }
    QCOMPARE(report(w).findings[std::size_t(over(w).findings().chosen())].kind, findings::KindId::leftovers);
    QCOMPARE(w.desk().session.active(), scene::LayerId{2});
    // Resting on the remedy shows it; nothing is kept yet.
    auto* remedy = w.find<QPushButton>(QStringLiteral("Take the loose pieces out and close the holes"));
    const auto kept = w.scene().layers[1]->mask.coverage.stamp();
    QEvent enter(QEvent::Enter);
    QCoreApplication::sendEvent(remedy, &enter);
    w.settle();
    QVERIFY(w.desk().session.shown().layers[1]->mask.coverage.stamp() != kept);
    QCOMPARE(w.scene().layers[1]->mask.coverage.stamp(), kept);
    QEvent leave(QEvent::Leave);
    QCoreApplication::sendEvent(remedy, &leave);
    w.settle();
    QCOMPARE(w.desk().session.shown().layers[1]->mask.coverage.stamp(), kept);
    // A click applies it; the reading is taken anew.
    w.click(QStringLiteral("Take the loose pieces out and close the holes"));
    read(w);
    QVERIFY(!find(w, "leftovers"));
    QVERIFY(report(w).tightness > before);
    w.desk().session.undo();
    read(w);
    QVERIFY(find(w, "leftovers"));

    // Accepted with a reason it is quiet, and stays so in the file.
    for (std::size_t i = 0; i <= count && report(w).findings[std::size_t(std::max(0, over(w).findings().chosen()))].kind !=
                                              findings::KindId::leftovers;
         ++i) {
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
    // Every view of the scene is in it.
    QVERIFY(text.contains("in eleven greys") && text.contains("its focus"));
    QVERIFY(text.count("data:image/png;base64,") >= 9);
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
    w.openPage("tolerances");
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
    w.desk().session.undo();
    w.desk().session.undo();
    read(w);
    QVERIFY(!w.scene().judging || w.scene().judging->tolerances == "usual");
    w.openPage("findings");
    const std::size_t judged = report(w).layers.size(), layers = w.scene().layers.size();
    w.click(QStringLiteral("Marks as a layer"));
    read(w);
    QCOMPARE(w.scene().layers.size(), layers + 1);
    QCOMPARE(w.scene().layers.back()->name, std::string("marks of findings"));
    QCOMPARE(report(w).layers.size(), judged);
  }
  // By hand and as sets of one's own, which another project takes up.
  void tolerancesAreSetByHandAndKept() {
    const QString name = QStringLiteral("for posters");
    {
      test::Window w;
      begin(w);
      w.goTo(test::kLookOver);
      read(w);
      QVERIFY(find(w, "leftovers"));
      w.openPage("tolerances");
      // More is let pass than there is; then it is looked for no more; then again.
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("Tolerance of leftovers")), QStringLiteral("900"));
      read(w);
      QVERIFY(!find(w, "leftovers"));
      w.desk().session.undo();
      w.click(QStringLiteral("leftovers"));
      read(w);
      QVERIFY(!find(w, "leftovers") && w.scene().judging->off.contains("leftovers"));
      QVERIFY(!w.find<QDoubleSpinBox>(QStringLiteral("Tolerance of leftovers"))->isEnabled());
      w.click(QStringLiteral("leftovers"));
      read(w);
      QVERIFY(find(w, "leftovers"));
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("Tolerance of black point")), QStringLiteral("1.5"));
      w.type(w.find<QLineEdit>(QStringLiteral("Name of the set")), name);  // Return keeps it
      QCOMPARE(w.scene().judging->tolerances, name.toStdString());
      QCOMPARE(w.find<QComboBox>(QStringLiteral("Tolerances"))->currentText(), name);
    }
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    w.openPage("tolerances");
    auto* sets = w.find<QComboBox>(QStringLiteral("Tolerances"));
    sets->setCurrentIndex(sets->findText(name));
    emit sets->activated(sets->currentIndex());
    w.settle();
    QVERIFY(w.scene().judging && w.scene().judging->tolerance.at("black_point") == 1.5);
    w.click(QStringLiteral("Forget"));
    QVERIFY(sets->findText(name) < 0);
    QCOMPARE(w.scene().judging->tolerance.at("black_point"), 1.5);
  }
  // Marked with the brush; taken back; the marks are kept with the project.
  void whatItIsComparedWithIsMarkedByHand() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    read(w);
    w.choose(QString::fromStdString(w.scene().layers[1]->name));
    w.openPage("compare");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("60"));
    const base::Size c = w.scene().canvas;
    w.drag(Qt::LeftButton, {QPointF(30, 40), QPointF(c.width / 3.0, 40), QPointF(c.width - 30.0, 40)});
    const auto reference = [&] { return w.scene().layers[1]->picture()->reference; };
    QVERIFY(!reference().isNull());
    const auto at = [&](int x, int y) { return *test::must(image::read8(reference(), 0, {x, y, 1, 1})).at(0, 0); };
    QVERIFY(at(c.width / 2, 40) == 255 && at(c.width / 2, 200) == 0);
    w.drag(Qt::RightButton, {QPointF(30, 40), QPointF(60, 40), QPointF(90, 40)});
    QVERIFY(at(60, 40) == 0 && at(c.width / 2, 40) == 255);
    read(w);
    const QString file = dir_.filePath(QStringLiteral("marked.hseam"));
    w.saveAs(file);
    test::Window again;
    again.open({file});
    const auto kept = again.scene().layers[1]->picture()->reference;
    QVERIFY(!kept.isNull() && *test::must(image::read8(kept, 0, {c.width / 2, 40, 1, 1})).at(0, 0) == 255);
    w.click(QStringLiteral("What is around it"));
    QVERIFY(reference().isNull());
    w.desk().session.undo();
    QVERIFY(!reference().isNull());
  }
  // Every step of making it belong can be left out again.
  void stepsOfBelongingAreLeftOut() {
    test::Window w;
    const auto photo = truth::photoFrom(test::demoPicture("lamplighter.jpg").toStdString(), 700);
    const auto p = truth::spoilt(photo, 9, "cast", 4, true);
    w.workspace().newScene(p.scene.canvas);
    for (const auto& l : p.scene.layers) w.desk().session.apply(scene::AddLayer{*l, {}, -1});
    w.goTo(test::kLookOver);
    read(w);
    w.choose(QString::fromStdString(w.scene().layers[1]->name));
    const std::size_t before = w.scene().layers.size();
    w.click(QStringLiteral("Make it belong"));
    read(w);
    QVERIFY(w.scene().layers.size() > before);
    const int steps = w.desk().session.history().current();
    const auto outs = w->findChildren<QPushButton*>();
    QPushButton* out = nullptr;
    int shown = 0;
    for (QPushButton* b : outs) {
      if (b->text() == QStringLiteral("Leave out") && b->isVisible()) out = out ? out : b, ++shown;
    }
    QVERIFY(out);
    const std::size_t with = w.scene().layers.size();
    // What was done can be weakened at any time, and that taken back.
    auto* strength = w->findChild<app::DoneToIt*>()->findChild<QDoubleSpinBox*>();
    QVERIFY(strength && strength->isVisible());
    const auto opacity = [&] {
      for (const auto& l : w.scene().layers) {
        if (l->adjustment()) return l->opacity;
      }
      return -1.0;
    };
    QCOMPARE(opacity(), 1.0);
    w.type(strength, QStringLiteral("40"));
    QCOMPARE(opacity(), 0.4);
    w.desk().session.undo();
    read(w);
    QCOMPARE(opacity(), 1.0);
    QCOMPARE(strength->value(), 100.0);
    out->click();
    read(w);
    // All of it anew without that step; or nothing that would mend anything without it.
    QVERIFY(w.scene().layers.size() < with);
    const int now = w.desk().session.history().current();
    QVERIFY(now == steps - 1 || (now == steps && shown > 1));
  }
  // The ribbon leads to where a bent picture shows a place of its edge.
  void theRibbonFollowsABend() {
    test::Window w;
    standOnAPlain(w);
    scene::Warp bend;
    bend.corners = {{0, 0}, {120, 0}, {220, 400}, {100, 400}};
    w.desk().session.apply(scene::SetWarp{{2}, std::make_shared<const scene::Warp>(bend)});
    w.choose(QStringLiteral("post"));
    w.goTo(test::kLookOver);
    read(w);
    QVERIFY(w->ribbon().isVisible());
    emit w->ribbon().goTo({60, 380});
    w.settle();
    // Its foot was moved by 95 px to the right.
    const QPointF middle = w.canvas().toWidget().inverted().map(QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    QVERIFY2(std::hypot(middle.x() - (380 + 60 + 95), middle.y() - (110 + 380)) < 3,
             qPrintable(QStringLiteral("%1 %2").arg(middle.x()).arg(middle.y())));
  }
  // Heat is drawn along the seam, and what was found along the edge stands in the ribbon.
  void seamsShowTheirHeatAndTheRibbonWhatWasFound() {
    test::Window w;
    const auto photo = truth::photoFrom(test::demoPicture("lamplighter.jpg").toStdString(), 700);
    const auto p = truth::spoilt(photo, 1, "halo", 5, true);
    w.workspace().newScene(p.scene.canvas);
    for (const auto& l : p.scene.layers) w.desk().session.apply(scene::AddLayer{*l, {}, -1});
    w.goTo(test::kLookOver);
    w.choose(QString::fromStdString(w.scene().layers[1]->name));
    read(w);
    QVERIFY(find(w, "halo"));
    QVERIFY(w->ribbon().isVisible() && w->ribbon().places() > 200);
    int found = 0;
    for (int i = 0; i < w->ribbon().places(); ++i) found += w->ribbon().foundAt(i).contains(QStringLiteral("halo"));
    QVERIFY2(found > 30, qPrintable(QString::number(found)));
    w.openPage("eyes");
    const QImage plain = w.canvas().grab().toImage();
    w.click(QStringLiteral("heat along the seams"));
    w.settle();
    QCOMPARE(over(w).heat().seams().size(), std::size_t(1));
    QVERIFY(w.canvas().grab().toImage() != plain);
    w.click(QStringLiteral("heat along the seams"));
    w.settle();
    QCOMPARE(w.canvas().grab().toImage(), plain);
  }
};
HSEAM_TEST(FindingsTest);
#include "findings_test.moc"
