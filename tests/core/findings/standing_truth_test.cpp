// What making it belong does to a composite, held against the same subject rendered where it stands.

#include <QTest>

#include "core/findings/belong.h"
#include "core/scene/floor.h"
#include "core/tasks/show_light.h"
#include "pictures.h"
#include "test_main.h"
#include "truth/standing.h"

using namespace hseam;

class StandingTruthTest : public QObject {
  Q_OBJECT

  // With its horizon answered.
  static truth::Standing asked(const QString& name) {
    for (truth::Standing& s : truth::standingSubjects(HSEAM_STANDING, test::memory(), test::here())) {
      if (s.name != name.toStdString()) continue;
      scene::Floor floor = scene::usualFloor(s.scene.canvas);
      floor.horizonY = s.floor.horizonY;
      s.scene.floor = floor;
      return std::move(s);
    }
    qFatal("there is no pair %s", qPrintable(name));
  }

 private slots:
  void onesOwnTruthIsNoDistanceAway() {
    const auto pairs = truth::standingSubjects(HSEAM_STANDING, test::memory(), test::here());
    QCOMPARE(pairs.size(), std::size_t(24));
    const truth::Standing& s = pairs.front();
    const auto apart = truth::fromTruth(s, s.scene, test::here());
    QVERIFY(apart.subject > 2);
    QVERIFY(apart.trueContact > 0.3);
    QVERIFY(std::abs(apart.contact) < 0.05);  // it floats
    // Outside the subject and its floor the place is the place: what is compared there is grain and one more JPEG at the most.
    QVERIFY(apart.floor < 6);
  }
  void itComesNearerWhereItIsTold_data() {
    QTest::addColumn<QString>("name");
    for (const char* name : {"hall-window-vase", "quay-dusk-crates", "meadow-grey-vase"}) QTest::newRow(name) << name;
  }
  void itComesNearerWhereItIsTold() {
    QFETCH(QString, name);
    const truth::Standing s = asked(name);
    const auto made = test::must(findings::belong(s.scene, s.layer, {}, test::here(), {}));
    const auto before = truth::fromTruth(s, s.scene, test::here()),
               after = truth::fromTruth(s, test::must(scene::apply(s.scene, made.edit)), test::here());
    qInfo("subject %.1f -> %.1f, floor %.1f -> %.1f, contact %.2f -> %.2f (truly %.2f)", before.subject, after.subject,
          before.floor, after.floor, before.contact, after.contact, before.trueContact);
    QVERIFY(after.subject < 0.92 * before.subject);
    QVERIFY(after.floor <= 1.01 * before.floor);
    // It no longer floats.
    QVERIFY(after.contact > 0.05);
    QVERIFY(made.after > made.before);
  }
  void aShownShadowBringsTheFloorNearer_data() {
    QTest::addColumn<QString>("name");
    for (const char* name : {"snow-morning-crates", "quay-noon-hound", "deck-noon-keeper"}) QTest::newRow(name) << name;
  }
  void aShownShadowBringsTheFloorNearer() {
    QFETCH(QString, name);
    truth::Standing s = asked(name);
    const auto shown = test::must(tasks::shownLight(s.scene, *s.shown, test::here()));
    QVERIFY2(shown.unmeasured.empty(), shown.unmeasured.c_str());
    s.scene.light = shown.light;
    const scene::LightFrom from = *scene::lightOf(s.scene);
    // The camera's usual height and angle are not those it was rendered with.
    QVERIFY2(std::abs(std::remainder(from.azimuthDeg - s.sunFrom.azimuthDeg, 360.0)) < 12 &&
                 std::abs(from.elevationDeg - s.sunFrom.elevationDeg) < 6,
             qPrintable(QString("from %1, %2 high").arg(from.azimuthDeg).arg(from.elevationDeg)));
    findings::BelongOptions shadows;
    shadows.only = {findings::KindId::castShadow, findings::KindId::contactShadow};
    const auto made = test::must(findings::belong(s.scene, s.layer, shadows, test::here(), {}));
    const auto before = truth::fromTruth(s, s.scene, test::here()),
               after = truth::fromTruth(s, test::must(scene::apply(s.scene, made.edit)), test::here());
    QVERIFY2(after.floor < 0.8 * before.floor, qPrintable(QString("%1 -> %2").arg(before.floor).arg(after.floor)));
  }
};

HSEAM_TEST(StandingTruthTest);
#include "standing_truth_test.moc"
