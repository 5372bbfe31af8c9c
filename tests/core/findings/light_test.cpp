// Light from the wrong side, paper that is not white, and cuts that go in steps.

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "judged.h"

using namespace hseam;
using namespace hseam::scene;
using namespace hseam::test;

namespace {

constexpr base::Size kLightCanvas{500, 400};

LayerRef plate() {
  Layer l;
  l.id = {1};
  l.name = "plate";
  PictureContent p;
  p.source = test::picture(kLightCanvas.width, kLightCanvas.height, 3,
                           [](int x, int y, int c) { return 120.0 + 30 * std::sin(x / 60.0 + c) + (x * 7 + y * 13) % 9; });
  l.content = std::move(p);
  return std::make_shared<const Layer>(std::move(l));
}

// A ball whose light comes from `deg` clockwise from above; its cut with fractional px or without.
Layer ball(double deg, bool crisp) {
  const double a = deg * M_PI / 180, lx = std::sin(a) * 0.8, ly = -std::cos(a) * 0.8, lz = 0.6;
  Layer l;
  l.id = {2};
  l.name = "ball";
  PictureContent p;
  p.source = test::picture(240, 240, 3, [=](int px, int py, int) {
    const double x = (px + 0.5 - 120) / 100, y = (py + 0.5 - 120) / 100, d = std::min(1.0, x * x + y * y);
    const double lambert = std::max(0.0, x * lx + y * ly + std::sqrt(1 - d) * lz);
    return 255 * image::encodedFromLinear(0.12 + 0.5 * lambert) + (px * 5 + py * 3) % 5;
  });
  p.placement.x = 130, p.placement.y = 80;
  l.content = std::move(p);
  l.mask.coverage = test::picture(240, 240, 1, [crisp](int x, int y, int) {
    const double away = 98 - std::hypot(x + 0.5 - 120, y + 0.5 - 120);
    return crisp ? (away > 0 ? 255.0 : 0.0) : 255 * std::clamp(away + 0.5, 0.0, 1.0);
  });
  return l;
}

}  // namespace

class LightFindingsTest : public QObject {
  Q_OBJECT
 private slots:
  void lightFromTheWrongSideIsFoundAndMirrored() {
    Scene s;
    s.canvas = kLightCanvas;
    const auto lit = [&](double deg, bool shadow) {
      s.layers = {plate(), std::make_shared<const Layer>(ball(deg, false))};
      if (!shadow) return;
      Layer cast;
      cast.id = {3};
      cast.name = "shadow";
      cast.mode = BlendMode::multiply;
      CastShadow k;
      // From the right and above, as lights are given: 60° round to the right, 40° up.
      k.light = {60, 40, 0.5};
      k.foot = {120, 218};
      cast.content = LightContent{{2}, k};
      s.layers.insert(s.layers.begin() + 1, std::make_shared<const Layer>(std::move(cast)));
    };
    lit(-46, false);
    QVERIFY(!reading(judged(s), "light_direction").available);  // no light was set
    lit(46, true);
    QVERIFY2(!reading(judged(s), "light_direction").out(), reading(judged(s), "light_direction").sentence.text().c_str());
    lit(-46, true);
    const auto report = judged(s);
    const auto& v = reading(report, "light_direction");
    QVERIFY(v.out() && std::abs(std::abs(v.reading) - 92) < 15);
    QVERIFY(v.sentence.text().find("upper left") != std::string::npos &&
            v.sentence.text().find("upper right") != std::string::npos);
    QCOMPARE(v.remedies[0].id, findings::RemedyId::mirror);
    QVERIFY(!v.remedies[0].onlyAsked.empty());  // what is written on it would be turned round
    QVERIFY(!reading(judged(mended(s, v)), "light_direction").out());
    // The light of the place counts before that of a layer.
    s.light = PlaceLight{};
    s.light->from = {-60, 40, 0.5};
    QVERIFY(!reading(judged(s), "light_direction").out());
    s.light->from = {180, 5, 0.5};
    const auto ahead = judged(s);
    QVERIFY(!reading(ahead, "light_direction").available);
    QCOMPARE(reading(ahead, "light_direction").reason.text(),
             std::string("the light comes from straight ahead or behind, from neither side"));
    s.light->casts = false;
    QVERIFY(reading(judged(s), "light_direction").out());
    s.light.reset();
    // From below, a mirror does not help: it is shaded.
    lit(170, true);
    const auto below = judged(s);
    QCOMPARE(reading(below, "light_direction").remedies[0].id, findings::RemedyId::shade);
    QVERIFY(mended(s, reading(below, "light_direction")).layers.size() == s.layers.size() + 1);
  }
  void multipliedPaperMustBeWhite() {
    Scene s;
    s.canvas = kLightCanvas;
    Layer shadow;
    shadow.id = {2};
    shadow.name = "kept shadow";
    shadow.mode = BlendMode::multiply;
    PictureContent p;
    p.source = test::picture(300, 200, 3, [](int x, int y, int c) {
      const double dark = std::exp(-std::pow((x - 150) / 40.0, 2) - std::pow((y - 120) / 20.0, 2));
      return (c == 2 ? 236.0 : 243.0) * (1 - 0.7 * dark);
    });
    p.placement.x = 100, p.placement.y = 100;
    shadow.content = std::move(p);
    s.layers = {plate(), std::make_shared<const Layer>(std::move(shadow))};
    const auto report = judged(s);
    const auto& v = reading(report, "paper_veil");
    QVERIFY2(v.out() && std::abs(v.reading - (100 - image::labFromEncoded({243 / 255., 243 / 255., 236 / 255.}).l)) < 0.2,
             v.reason.text().c_str());
    QVERIFY(std::none_of(report.readings.begin(), report.readings.end(),
                         [](const auto& r) { return r.kind == findings::KindId::whitePoint; }));
    const auto after = judged(mended(s, v));
    QVERIFY2(!reading(after, "paper_veil").out(), qPrintable(QString::number(reading(after, "paper_veil").reading)));
  }
  void stepsAlongTheCutAreFoundAndSmoothed() {
    Scene s;
    s.canvas = kLightCanvas;
    s.layers = {plate(), std::make_shared<const Layer>(ball(0, false))};
    QVERIFY(!reading(judged(s), "jaggedness").out());
    s.layers[1] = std::make_shared<const Layer>(ball(0, true));
    const auto report = judged(s);
    const auto& v = reading(report, "jaggedness");
    QVERIFY2(v.out(), qPrintable(QString::number(v.reading)));
    QVERIFY(!reading(judged(mended(s, v)), "jaggedness").out());
  }
};

HSEAM_TEST(LightFindingsTest);
#include "light_test.moc"
