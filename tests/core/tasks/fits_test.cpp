#include "core/tasks/fits.h"

#include <cmath>
#include <random>

#include "core/image/picture_file.h"
#include "core/render/scenes.h"

using namespace hseam;

// Pictures of which camera and light are known.
class FitsTest : public QObject {
  Q_OBJECT

  static tasks::ShotFacts shot(const char* name, double pitchDeg, double angleDeg, double lightDeg, double midL) {
    tasks::ShotFacts f;
    f.name = name;
    f.size = {3000, 2000};
    f.viewAngleDeg = angleDeg;
    f.horizon = 0.5 - std::tan(pitchDeg * M_PI / 180) * 1500 / std::tan(angleDeg * M_PI / 360) / 2000;
    f.lightDeg = lightDeg;
    f.midL = midL;
    return f;
  }

 private slots:
  void theOneOfTheSameCameraAndLightComesFirst() {
    std::mt19937 random(17);
    std::uniform_real_distribution<double> pitch(-4, 14), angle(28, 70), light(-80, 80), tone(25, 70);
    std::normal_distribution<double> off(0, 1);
    int first = 0;
    for (int trial = 0; trial < 40; ++trial) {
      const double p = pitch(random), a = angle(random), l = light(random);
      const auto subject = shot("subject", p, a, l, tone(random));
      std::vector<tasks::ShotFacts> places;
      // As well as they are measured: a degree, a tenth of the lens, 15 degrees of light; exposure is any.
      places.push_back(shot("right", p + off(random), a * (1 + 0.05 * off(random)), l + 15 * off(random), tone(random)));
      for (int k = 0; k < 4; ++k) places.push_back(shot("wrong", pitch(random), angle(random), light(random), tone(random)));
      std::shuffle(places.begin(), places.end(), random);
      first += tasks::rankedFor(subject, places).front().name == "right";
    }
    QVERIFY2(first >= 34, qPrintable(QString::number(first)));
  }
  void theReasonsNameWhatIsOff() {
    const auto subject = shot("keeper", 2, 45, 50, 50);
    const auto down = tasks::fitOf(subject, shot("pier", 12, 45, 50, 50));
    QVERIFY(down.off > 2 && down.reasons.front().find("looked 2° down at keeper, 12° down at pier") != std::string::npos);
    const auto wide = tasks::fitOf(subject, shot("quay", 2, 80, 50, 50));
    QVERIFY(wide.reasons.front().find("45° across, quay with 80°") != std::string::npos);
    const auto lit = tasks::fitOf(subject, shot("deck", 2, 45, -60, 50));
    QVERIFY(lit.reasons.front().find("from the right, on deck from the left: 110° apart; mirrored") != std::string::npos);
    QVERIFY(tasks::fitOf(subject, shot("same", 2, 45, 50, 50)).reasons.empty());
    // From above and from below: a mirror changes neither.
    const auto below = tasks::fitOf(shot("keeper", 2, 45, 10, 50), shot("lamp", 2, 45, 170, 50));
    QVERIFY(below.reasons.front().find("160° apart") != std::string::npos &&
            below.reasons.front().find("mirrored") == std::string::npos);
    // The other way round it is the same.
    const auto back = tasks::fitOf(shot("pier", 12, 45, 50, 50), subject);
    QVERIFY(std::abs(back.off - down.off) < 1e-9);
  }
  void whatIsUnknownSaysNothing() {
    tasks::ShotFacts subject, place = shot("pier", 12, 45, 50, 0);
    subject.name = "keeper", subject.size = {300, 200};
    const auto fit = tasks::fitOf(subject, place);
    QVERIFY(fit.known == 0 && fit.off == 0 && fit.reasons.size() == 1);
  }
  void factsComeFromNotesThenTheCameraThenThePicture() {
    const auto picture =
        test::must(image::readPicture(HSEAM_STANDING "/quay-noon-crates/ground.jpg", test::memory(), test::here(), {}));
    scene::Layer l = test::pictureLayer(1, picture.pixels);
    auto p = *l.picture();
    p.about.focal35Mm = 36;
    l.content = p;
    scene::Scene s;
    s.canvas = {900, 600};
    s = test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
    auto facts = test::must(tasks::shotFactsOf(s, {1}, {}));
    QVERIFY(facts.horizon && std::abs(*facts.horizon - 176.8 / 600) < 0.005);
    QVERIFY(facts.viewAngleDeg && std::abs(*facts.viewAngleDeg - 53.13) < 0.01);
    QVERIFY(facts.midL > 10 && !facts.lightDeg);
    s = test::must(scene::apply(s, scene::SetOwnHorizon{{1}, 300.0}));
    facts = test::must(tasks::shotFactsOf(s, {1}, {}));
    QCOMPARE(*facts.horizon, 0.5);
    // A light that was set on it.
    scene::CastShadow shadow;
    shadow.light.azimuthDeg = 90, shadow.light.elevationDeg = 45;
    scene::Layer lit;
    lit.id = {5};
    lit.name = "shadow";
    lit.content = scene::LightContent{{1}, shadow};
    s = test::must(scene::apply(s, scene::AddLayer{lit, {}, -1}));
    facts = test::must(tasks::shotFactsOf(s, {1}, {}));
    QVERIFY(facts.lightDeg && std::abs(*facts.lightDeg - 45) < 0.1);
    QCOMPARE(tasks::shotFactsOf(s, {5}, {}).error().code, base::Code::invalid);
    QCOMPARE(tasks::shotFactsOf(s, {9}, {}).error().code, base::Code::notFound);
  }
  void aShelfItemTellsWhatIsNotedOfIt() {
    store::ShelfItem item;
    item.name = "harbour", item.width = 3000, item.height = 2000, item.horizonY = 800, item.midL = 40;
    item.lightFromDeg = {-90, 45};
    const auto facts = tasks::shotFactsOf(item);
    QVERIFY(facts.horizon == 0.4 && facts.midL == 40 && std::abs(*facts.lightDeg + 45) < 0.1 && !facts.viewAngleDeg);
  }
};

HSEAM_TEST(FitsTest);
#include "fits_test.moc"
