// Where a subject stands: size, horizons and contact, on a floor whose camera is known.

#include "core/findings/specimen.h"
#include "core/findings/stands_at.h"
#include "core/render/renderer.h"
#include "core/scene/floor.h"
#include "judged.h"

using namespace hseam;
using namespace hseam::scene;
using namespace hseam::test;

namespace {

constexpr base::Size kStandingCanvas{900, 600};

// A lit floor under a sky, and a post of 1.7 m whose foot is at a px of the canvas.
Scene standing(double scale, base::Point foot, double ownHorizon) {
  Scene s;
  s.canvas = kStandingCanvas;
  Floor f;
  f.horizonY = 220;
  f.cameraHeightM = 1.6;
  f.viewAngleDeg = 50;
  s.floor = f;
  Layer plate;
  plate.id = {1};
  plate.name = "plate";
  PictureContent ground;
  ground.source = test::picture(kStandingCanvas.width, kStandingCanvas.height, 3, [](int x, int y, int) {
    return (y < 220 ? 205.0 : 150.0 + 20 * std::sin(x / 90.0)) + (x * 7 + y * 13) % 9;
  });
  plate.content = std::move(ground);
  Layer post;
  post.id = {2};
  post.name = "post";
  PictureContent p;
  p.source = test::picture(120, 400, 3, [](int x, int y, int) { return 60.0 + y / 4 + (x * 5 + y * 3) % 9; });
  p.placement.scale = scale;
  p.placement.x = foot.x - scale * 60;
  p.placement.y = foot.y - scale * 380;
  p.realHeightM = 1.7;
  if (ownHorizon > 0) p.horizonY = ownHorizon;
  post.content = std::move(p);
  post.mask.coverage =
      test::picture(120, 400, 1, [](int x, int y, int) { return x >= 35 && x < 85 && y >= 40 && y < 380 ? 255 : 0; });
  s.layers = {std::make_shared<const Layer>(std::move(plate)), std::make_shared<const Layer>(std::move(post))};
  return s;
}

}  // namespace

class StandingTest : public QObject {
  Q_OBJECT
 private slots:
  void sizeOnTheGroundIsReadAndPutRight() {
    const base::Point foot{430, 470};
    const double right = *heightAtFoot(FloorCamera(*standing(1, foot, 0).floor, kStandingCanvas), foot, 1.7);
    for (const double off : {0.8, 1.0, 1.25}) {
      // Of the post's 340 px.
      const Scene s = standing(off * right / 340, foot, 0);
      const auto r = judged(s);
      const auto& v = reading(r, "ground_size");
      QVERIFY2(v.available && std::abs(v.reading - 100 * (off - 1)) < 1.5, qPrintable(QString::number(v.reading)));
      QCOMPARE(v.out(), off != 1.0);
      if (v.out()) QVERIFY(!reading(judged(mended(s, v)), "ground_size").out());
    }
    Scene unknown = standing(1, foot, 0);
    unknown.floor.reset();
    QVERIFY(!reading(judged(unknown), "ground_size").available);
  }
  void anotherCamerasHeightIsToldAndMet() {
    const base::Point foot{430, 470};
    const double scale = 0.7, top = foot.y - scale * 380;
    // Its own horizon drawn where the scene's is: alike. 60 px of the scene further down: lower.
    const double alike = (220 - top) / scale;
    QVERIFY(!reading(judged(standing(scale, foot, alike)), "camera_height").out());
    const Scene s = standing(scale, foot, alike + 60 / scale);
    const auto r = judged(s);
    const auto& v = reading(r, "camera_height");
    QVERIFY2(v.out() && std::abs(v.reading + 100 * 60 / (scale * 340)) < 1.5, qPrintable(QString::number(v.reading)));
    QVERIFY(!reading(judged(mended(s, v)), "camera_height").out());
  }
  // What is confined to a subject is judged with it, and is no part of what it is set into.
  void whatIsConfinedBelongsToTheSubject() {
    Scene s = standing(0.7, {430, 470}, 0);
    Layer rim;
    rim.id = {3};
    rim.clip = true;
    rim.content = LightContent{{2}, EdgeLight{}};
    Layer above;
    above.id = {4};
    above.clip = true;
    above.content = AdjustmentContent{Exposure{0.3}};
    s.layers.push_back(std::make_shared<const Layer>(std::move(rim)));
    s.layers.push_back(std::make_shared<const Layer>(std::move(above)));
    const Scene own = findings::alone(s, {2}), rest = findings::behind(s, {2});
    QVERIFY(own.layers[0]->hidden && !own.layers[1]->hidden && !own.layers[2]->hidden && !own.layers[3]->hidden);
    QVERIFY(!rest.layers[0]->hidden && rest.layers[1]->opacity == 0 && rest.layers[2]->hidden && rest.layers[3]->hidden);
  }
  void whatFloatsGetsItsContact() {
    const Scene s = standing(0.7, {430, 470}, 0);
    const auto r = judged(s);
    const auto& v = reading(r, "contact_shadow");
    QVERIFY2(v.out() && std::abs(v.reading) < 2, qPrintable(QString::number(v.reading)));
    const Scene next = mended(s, v);
    QVERIFY(next.layers[1]->group() && findings::isLightOf(*next.layers[1], LayerId{2}));
    const auto after = judged(next);
    QVERIFY2(!reading(after, "contact_shadow").out() && reading(after, "contact_shadow").reading > 4,
             qPrintable(QString::number(reading(after, "contact_shadow").reading)));
  }
  // Two legs touch in two places, and there is no shadow line between them but the faint one.
  void eachFootHasItsOwnContact() {
    Scene s = standing(0.7, {430, 470}, 0);
    Layer post = *s.layers[1];
    post.mask.coverage = test::picture(120, 400, 1, [](int x, int y, int) {
      const bool body = x >= 25 && x < 95 && y >= 40 && y < 300, legs = (x >= 25 && x < 45) || (x >= 75 && x < 95);
      return body || (legs && y >= 300 && y < 380) ? 255 : 0;
    });
    s.layers[1] = std::make_shared<const Layer>(std::move(post));
    const auto& before = judged(s);
    const Scene next = mended(s, reading(before, "contact_shadow"));
    QCOMPARE(next.layers[1]->group()->layers.size(), std::size_t(3));
    const auto lightnessAt = [](const Scene& of, int x) {
      render::Renderer renderer;
      return double(test::must(renderer.render(of, {x, 472, 1, 1}, 0, test::here())).row(0)[1]);
    };
    const double legs = lightnessAt(next, 413) / lightnessAt(s, 413), between = lightnessAt(next, 430) / lightnessAt(s, 430);
    QVERIFY2(legs < 0.7 && between > legs + 0.08, qPrintable(QStringLiteral("%1 %2").arg(legs).arg(between)));
  }
  // Where nobody drew the floor, what stands low in the picture stands on one; what stands higher may hang on a wall.
  void withoutAFloorWhatStandsLowIsStillSeenToFloat() {
    Scene low = standing(0.7, {430, 470}, 0);
    low.floor.reset();
    const auto report = judged(low);
    const auto& v = reading(report, "contact_shadow");
    QVERIFY(v.out() && v.sentence.text().find("No floor was drawn") != std::string::npos);
    QVERIFY(!reading(judged(mended(low, v)), "contact_shadow").out());
    Scene high = standing(0.5, {430, 320}, 0);
    high.floor.reset();
    QVERIFY(!reading(judged(high), "contact_shadow").available);
    // A picture that was not cut out stands on nothing.
    Scene whole = low;
    Layer post = *whole.layers[1];
    post.mask = {};
    whole.layers[1] = std::make_shared<const Layer>(std::move(post));
    QVERIFY(!reading(judged(whole), "contact_shadow").available);
  }
  void whereOthersCastAShadowItCastsOneAlike() {
    Scene s = standing(0.7, {430, 470}, 0);
    QVERIFY(!reading(judged(s), "cast_shadow").available);
    Layer other = *s.layers[1];
    other.id = {3};
    other.name = "other post";
    std::get<PictureContent>(other.content).placement.x += 250;
    CastShadow shadow;
    shadow.light.azimuthDeg = 120;
    shadow.foot = {60, 380};
    Layer light;
    light.id = {4};
    light.mode = BlendMode::multiply;
    light.content = LightContent{{3}, shadow};
    s.layers.insert(s.layers.begin() + 1, std::make_shared<const Layer>(std::move(light)));
    s.layers.push_back(std::make_shared<const Layer>(std::move(other)));
    const auto report = judged(s);
    const auto at = std::find_if(report.findings.begin(), report.findings.end(),
                                 [](const findings::Verdict& v) { return v.kind == findings::KindId::castShadow; });
    QVERIFY(at != report.findings.end());
    QCOMPARE(at->layer, LayerId{2});
    const Scene next = mended(s, *at);
    const auto made = std::find_if(next.layers.begin(), next.layers.end(),
                                   [](const LayerRef& l) { return l->light() && l->light()->caster == LayerId{2}; });
    QVERIFY(made != next.layers.end());
    const auto& cast = std::get<CastShadow>((*made)->light()->kind);
    QCOMPARE(cast.light, shadow.light);
    QVERIFY(std::abs(cast.foot.y - 380) < 3 && std::abs(cast.foot.x - 60) < 6);
    for (const auto& v : judged(next).readings) QVERIFY(v.kind != findings::KindId::castShadow || !v.out());
  }
  void whereThePlaceCastsShadowsItCastsOne() {
    Scene s = standing(0.7, {430, 470}, 0);
    QCOMPARE(reading(judged(s), "cast_shadow").asks, findings::Asks::light);
    s.light = PlaceLight{};
    s.light->from = {-70, 35, 4};
    s.light->density = 0.8;
    s.light->colour = {0.5, 0.55, 0.7};
    const auto report = judged(s);
    const auto& v = reading(report, "cast_shadow");
    QVERIFY(v.out() && v.asks == findings::Asks::nothing);
    QCOMPARE(v.sentence.text(), std::string("Things in the picture cast shadows on the floor and post casts none."));
    const Scene next = mended(s, v);
    const auto& cast = std::get<CastShadow>(next.layers[1]->light()->kind);
    QCOMPARE(cast.light, s.light->from);
    QVERIFY(cast.density == 0.8 && cast.colour == s.light->colour);
    QVERIFY(!reading(judged(next), "cast_shadow").out());
    // Its own shadow is nothing that its tones are compared with.
    const auto shadowed = judged(next);
    for (const char* kind : {"black_point", "mid_tone", "cast"}) {
      const auto &before = reading(report, kind), &after = reading(shadowed, kind);
      QVERIFY2(before.available == after.available && std::abs(before.reading - after.reading) < 0.4,
               qPrintable(QString("%1: %2, then %3").arg(QLatin1String(kind)).arg(before.reading).arg(after.reading)));
    }
    // Under an overcast sky nothing is missing.
    s.light->casts = false;
    const auto overcast = judged(s);
    QVERIFY(!reading(overcast, "cast_shadow").available && reading(overcast, "cast_shadow").asks == findings::Asks::nothing);
  }
  void aShadowFallsFromTheMiddleOfWhatHasDepth() {
    // A crate of 1 m turned by 35 degrees, as the camera sees it: its mask is the hull of its eight corners.
    Scene s = standing(1, {430, 470}, 0);
    const FloorCamera camera(*s.floor, kStandingCanvas);
    const Vec3 middle{0.4, 0, 5};
    std::vector<base::Point> corners;
    for (int i = 0; i < 8; ++i) {
      const double a = (10 + 90 * (i % 4)) * M_PI / 180, r = std::sqrt(0.5);
      corners.push_back(*camera.project({middle[0] + r * std::cos(a), i < 4 ? 0.0 : 1.0, middle[2] + r * std::sin(a)}));
    }
    const auto inside = [&](double x, double y) {
      // In the hull: on no side of any line through two corners that has all others on the other.
      for (const base::Point& a : corners) {
        for (const base::Point& b : corners) {
          const auto side = [&](base::Point p) { return (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x); };
          if (std::all_of(corners.begin(), corners.end(), [&](base::Point p) { return side(p) >= -1e-6; }) && side({x, y}) < 0)
            return false;
        }
      }
      return true;
    };
    Layer crate = *s.layers[1];
    auto& p = std::get<PictureContent>(crate.content);
    p.source = test::picture(kStandingCanvas.width, kStandingCanvas.height, 3, [](int, int, int) { return 120; });
    p.placement = {};
    crate.mask.coverage = test::picture(kStandingCanvas.width, kStandingCanvas.height, 1,
                                        [&](int x, int y, int) { return inside(x + 0.5, y + 0.5) ? 255 : 0; });
    s.layers[1] = std::make_shared<const Layer>(crate);
    const auto stands = test::must(findings::standsAt(s, {2}));
    QVERIFY(stands);
    const base::Point foot = findings::shadowFoot(s, crate, *stands), truth = *camera.project(middle);
    const double nearest = std::hypot(stands->foot.x - truth.x, stands->foot.y - truth.y);
    QVERIFY2(std::abs(foot.y - truth.y) < 0.35 * nearest,
             qPrintable(QString("%1, truly %2; it touches at %3").arg(foot.y).arg(truth.y).arg(stands->foot.y)));
  }
};

HSEAM_TEST(StandingTest);
#include "standing_test.moc"
