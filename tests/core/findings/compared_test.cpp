// Where a subject is compared, what is cut off, what is taken over from report to report, and heat along a seam.

#include "core/findings/seam_heat.h"
#include "core/findings/tolerance_sets.h"
#include "judged.h"

using namespace hseam;
using namespace hseam::scene;
using namespace hseam::test;

namespace {

constexpr base::Size kComparedCanvas{600, 400};

// Fog in the left half lifts what is dark, the right half is clear. Texture of many tones in both.
double tone(test::Noise& noise, bool fog) {
  const double v = 10 + 215 * noise.unit();
  return fog ? 70 + v * 185 / 255 : v;
}
LayerRef layerOf(std::uint64_t id, const std::string& name, const image::TiledImage& source, double x, double y,
                 const image::TiledImage& mask = {}) {
  Layer l;
  l.id = {id};
  l.name = name;
  PictureContent p;
  p.source = source;
  p.placement.x = x, p.placement.y = y;
  l.content = std::move(p);
  l.mask.coverage = mask;
  return std::make_shared<const Layer>(std::move(l));
}
image::TiledImage blotches(int width, int height, const std::function<bool(int)>& fog, std::uint64_t seed) {
  // Squares of 6 px with soft borders: flat areas and many tones.
  test::Noise noise(seed);
  const int columns = width / 6 + 2;
  std::vector<double> tones;
  for (int j = 0; j < height / 6 + 2; ++j) {
    for (int i = 0; i < columns; ++i) tones.push_back(tone(noise, fog(i * 6)));
  }
  return test::picture(width, height, 3, [&](int x, int y, int) { return tones[std::size_t((y / 6) * columns + x / 6)]; });
}
image::TiledImage sideDisc(int side, double radius) {
  return test::picture(side, side, 1, [=](int x, int y, int) {
    return 255 * std::clamp(radius + 0.5 - std::hypot(x + 0.5 - side / 2.0, y + 0.5 - side / 2.0), 0.0, 1.0);
  });
}
Scene foggy() {
  Scene s;
  s.canvas = kComparedCanvas;
  s.layers = {layerOf(1, "plate",
                      blotches(
                          600, 400, [](int x) { return x < 300; }, 1),
                      0, 0),
              layerOf(2, "subject",
                      blotches(
                          120, 120, [](int) { return true; }, 2),
                      420, 140, sideDisc(120, 55))};
  return s;
}
image::TiledImage marks(int from, int to) {
  return test::picture(kComparedCanvas.width, kComparedCanvas.height, 1,
                       [=](int x, int, int) { return x >= from && x < to ? 255 : 0; });
}
const findings::JudgedLayer* judgedLayer(const findings::Report& r, std::uint64_t id) {
  return r.judged.at({id}).get();
}

Layer shadowLayer(LayerId caster, base::Point foot) {
  Layer cast;
  cast.id = {4};
  cast.name = "shadow";
  cast.mode = BlendMode::multiply;
  CastShadow k;
  k.foot = foot;
  cast.content = LightContent{caster, k};
  return cast;
}

}  // namespace

class ComparedTest : public QObject {
  Q_OBJECT
 private slots:
  // A foggy subject in the clear: it is out, unless it shall be like the fog.
  void whatIsMarkedIsWhatItIsComparedWith() {
    const Scene s = foggy();
    const auto around = judged(s);
    QVERIFY2(reading(around, "black_point").out(), reading(around, "black_point").reason.text().c_str());
    const Scene likeFog = test::must(scene::apply(s, SetReference{{2}, marks(20, 280)}));
    const auto fog = judged(likeFog);
    QVERIFY2(reading(fog, "black_point").available && std::abs(reading(fog, "black_point").reading) < 1.5,
             qPrintable(QString::number(reading(fog, "black_point").reading)));
    const Scene likeClear = test::must(scene::apply(s, SetReference{{2}, marks(320, 410)}));
    const auto clear = judged(likeClear);
    const auto& v = reading(clear, "black_point");
    QVERIFY(v.out() && v.reading > 15 && v.sentence.text().find("marked") != std::string::npos);
    // The remedy brings it to what was marked.
    QVERIFY(std::abs(reading(judged(mended(likeClear, v)), "black_point").reading) < 3);
    // Too little was marked to say anything: as if nothing was.
    const Scene hardly = test::must(scene::apply(s, SetReference{{2}, marks(0, 0)}));
    QCOMPARE(reading(judged(hardly), "black_point").reading, reading(around, "black_point").reading);
  }
  void marksFollowTheCanvasAndStayBehindOnAnother() {
    const Scene s = test::must(scene::apply(foggy(), SetReference{{2}, marks(20, 280)}));
    QVERIFY(!scene::apply(s, SetReference{{2}, sideDisc(120, 50)}).ok());
    Scene other;
    other.canvas = {300, 300};
    QVERIFY(duplicate(other, *s.layers[1]).picture()->reference.isNull());
    QVERIFY(!duplicate(s, *s.layers[1]).picture()->reference.isNull());
  }
  void whatIsConfinedToItMayNotCutItOff() {
    Scene s = foggy();
    QCOMPARE(reading(judged(s), "clipping").reading, 0.0);
    const auto adjusted = [&](std::uint64_t id, const Adjustment& a) {
      Layer l;
      l.id = {id};
      l.name = "adjustment";
      l.clip = true;
      l.content = AdjustmentContent{a};
      return l;
    };
    // Everything above 200 of 255 becomes white: of tones that lie evenly from 77 to 233, a fifth.
    s = test::must(scene::apply(s, AddLayer{adjusted(3, Saturation{-0.2}), {}, -1}));
    s = test::must(scene::apply(s, AddLayer{adjusted(4, Levels{0, 200 / 255.0, 1, 0, 1}), {}, -1}));
    const auto report = judged(s);
    const auto& v = reading(report, "clipping");
    QVERIFY2(v.out() && v.reading > 15 && v.reading < 27, qPrintable(QString::number(v.reading)));
    const Scene weaker = mended(s, v);
    QVERIFY(findLayer(weaker, {3})->opacity == 1 && findLayer(weaker, {4})->opacity < 1 && findLayer(weaker, {4})->opacity > 0.1);
    QVERIFY(!reading(judged(weaker), "clipping").out());
    // A grade of the whole scene is not the subject's fault.
    Layer grade = adjusted(5, Levels{0, 200 / 255.0, 1, 0, 1});
    grade.clip = false;
    QCOMPARE(reading(judged(test::must(scene::apply(foggy(), AddLayer{grade, {}, -1}))), "clipping").reading, 0.0);
  }
  void onlyWhatChangedIsJudgedAnew() {
    Scene s = foggy();
    s.layers.push_back(layerOf(3, "front",
                               blotches(
                                   100, 100, [](int) { return false; }, 3),
                               60, 60, sideDisc(100, 45)));
    const auto first = judged(s);
    QCOMPARE(first.judgedAnew, 3);
    const auto next = [&](const Scene& changed, const findings::Report& before) {
      return test::must(findings::reportOn(changed, test::here(), {}, &before));
    };
    const auto same = next(s, first);
    QCOMPARE(same.judgedAnew, 0);
    QCOMPARE(same.tightness, first.tightness);
    QCOMPARE(same.readings.size(), first.readings.size());
    // In front: the one behind it is taken over, and reads as when all is judged anew.
    const Scene moved = test::must(scene::apply(s, SetPlacement{{3}, {80, 70}}));
    const auto after = next(moved, first);
    QCOMPARE(after.judgedAnew, 1);
    QVERIFY(judgedLayer(after, 2) == judgedLayer(first, 2) && judgedLayer(after, 3) != judgedLayer(first, 3));
    const auto fresh = judged(moved);
    for (std::size_t i = 0; i < fresh.readings.size(); ++i) {
      QCOMPARE(after.readings[i].kind, fresh.readings[i].kind);
      QCOMPARE(after.readings[i].reading, fresh.readings[i].reading);
    }
    // Behind: both in front of it stand in another scene.
    QCOMPARE(next(test::must(scene::apply(s, SetPlacement{{1}, {2, 0}})), first).judgedAnew, 3);
    // An adjustment in front of all changes all of them; a quiet answer changes nothing that was read.
    Layer grade;
    grade.id = {9};
    grade.name = "grade";
    grade.content = AdjustmentContent{Exposure{0.3}};
    QCOMPARE(next(test::must(scene::apply(s, AddLayer{grade, {}, -1})), first).judgedAnew, 3);
    Judging j;
    const auto& out = first.findings.front();
    j.answered.push_back({findings::keyOf(out.kind), out.layer, out.reading, out.excess, "so be it", false});
    const auto quiet = next(test::must(scene::apply(s, SetJudging{j, "accept"})), first);
    QCOMPARE(quiet.judgedAnew, 0);
    QCOMPARE(quiet.findings.size() + 1, first.findings.size());
    j.tolerance["black_point"] = 1;
    QCOMPARE(next(test::must(scene::apply(s, SetJudging{j, "strict"})), first).judgedAnew, 3);
  }
  void aShadowBehindRestsOnItsCasterInFront() {
    Scene s = foggy();
    s.layers.push_back(layerOf(3, "front",
                               blotches(
                                   100, 100, [](int) { return false; }, 3),
                               60, 60, sideDisc(100, 45)));
    const Layer cast = shadowLayer({3}, {50, 95});
    s.layers.insert(s.layers.begin() + 1, std::make_shared<const Layer>(cast));
    const auto first = judged(s);
    // The caster moves in front of the subject; its shadow moves behind it.
    const auto after =
        test::must(findings::reportOn(test::must(scene::apply(s, SetPlacement{{3}, {160, 70}})), test::here(), {}, &first));
    QVERIFY(judgedLayer(after, 2) != judgedLayer(first, 2));
  }
  // A shadow in front of everything says from where light falls, and what a confined group holds is the subject's own.
  void lightsInFrontAndConfinedGroupsCount() {
    Scene s = foggy();
    const Layer cast = shadowLayer({2}, {60, 115});
    Layer group;
    group.id = {5};
    group.name = "group";
    group.clip = true;
    group.content = GroupContent{{layerOf(7, "dust",
                                          blotches(
                                              40, 40, [](int) { return false; }, 5),
                                          460, 180)},
                                 true};
    s = test::must(scene::apply(s, AddLayer{group, {}, -1}));
    s = test::must(scene::apply(s, AddLayer{cast, {}, -1}));
    const auto first = judged(s);
    const auto anew = [&](const Edit& edit) {
      return test::must(findings::reportOn(test::must(scene::apply(s, edit)), test::here(), {}, &first)).judgedAnew;
    };
    LightContent turned = *cast.light();
    std::get<CastShadow>(turned.kind).light.azimuthDeg += 90;
    QVERIFY(anew(SetLight{{4}, turned}) >= 1);
    QVERIFY(anew(SetPlacement{{7}, {470, 190}}) >= 1);
    QCOMPARE(anew(SetMixing{s.mixing}), 0);
  }
  // On white in the left half, on its own colour in the right: the soft edge keeps white where the old background was white.
  void heatLiesWhereTheOldBackgroundIsLeft() {
    const auto mask = test::picture(300, 300, 1, [](int x, int y, int) {
      return 255 * std::clamp((100 - std::hypot(x + 0.5 - 150, y + 0.5 - 150)) / 6 + 0.5, 0.0, 1.0);
    });
    const auto source = test::picture(300, 300, 3, [](int x, int y, int c) {
      const double own = c == 0 ? 110 : (c == 1 ? 60 : 40),
                   a = std::clamp((100 - std::hypot(x + 0.5 - 150, y + 0.5 - 150)) / 6 + 0.5, 0.0, 1.0);
      return x < 150 ? a * own + (1 - a) * 250 : own;
    });
    Scene s;
    s.canvas = kComparedCanvas;
    s.layers = {layerOf(1, "plate",
                        blotches(
                            600, 400, [](int) { return false; }, 1),
                        0, 0),
                layerOf(2, "subject", source, 200, 50, mask)};
    const auto places = test::must(findings::seamHeat(s, {2}, 3, {}));
    QVERIFY(places.size() > 180 && places.size() < 240);
    double hot = 0, cold = 0;
    int left = 0, right = 0;
    for (const auto& p : places) {
      QVERIFY(std::abs(std::hypot(p.at.x - 350, p.at.y - 200) - 100) < 2);
      if (p.at.x < 330) hot += double(p.heat), ++left;
      if (p.at.x > 370) cold += double(p.heat), ++right;
    }
    QVERIFY2(left > 70 && right > 70 && hot / left > 1.5 && cold / right < 0.3,
             qPrintable(QStringLiteral("%1 %2").arg(hot / left).arg(cold / right)));
    QVERIFY(test::must(findings::seamHeat(s, {1}, 3, {})).empty());
  }
  void setsOfOnesOwnComeBack() {
    findings::OwnToleranceSet set{"posters \"A0\"", {{"black_point", 1.25}, {"grain", 1.6}}};
    const auto back = test::must(findings::toleranceSetFromRecord(findings::toleranceSetRecord(set)));
    QVERIFY(back.name == set.name && back.tolerance == set.tolerance);
    Judging j;
    j.off.insert("cast");
    const Judging by = findings::judgedBy(j, back);
    QVERIFY(by.tolerances == set.name && by.off.contains("cast"));
    QCOMPARE(findings::toleranceOf(findings::kindOf(findings::KindId::grain), &by), 1.6);
    // Kinds of another version are left out; what is no tolerance is refused.
    QVERIFY(test::must(findings::toleranceSetFromRecord(R"({"tolerances":"a","by_kind":{"smell":2}})")).tolerance.empty());
    for (const char* bad : {"", "[]", R"({"tolerances":"a"})", R"({"tolerances":"a","by_kind":{"cast":"x"}})",
                            R"({"tolerances":"a","by_kind":{"cast":-1}})"})
      QVERIFY(!findings::toleranceSetFromRecord(bad).ok());
  }
};

HSEAM_TEST(ComparedTest);
#include "compared_test.moc"
