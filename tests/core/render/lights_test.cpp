// Shadows and lit edges against geometry done by hand.

#include "core/render/lights.h"

#include "core/image/transfer.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

constexpr base::Size kLitCanvas{900, 700};

scene::Floor floor() {
  scene::Floor f;
  f.horizonY = 180;
  f.cameraHeightM = 1.6;
  f.viewAngleDeg = 46;
  return f;
}

// A post, white on nothing: 20 px wide, 200 px tall, its foot at (x, y).
scene::Layer post(double x, double y) {
  scene::Layer l = test::pictureLayer(2, test::picture(60, 220, 3, [](int, int, int) { return 255; }), x - 30, y - 210);
  l.mask.coverage =
      test::picture(60, 220, 1, [](int px, int py, int) { return px >= 20 && px < 40 && py >= 10 && py < 210 ? 255 : 0; });
  return l;
}

scene::Layer light(std::uint64_t id, scene::LightKind kind, scene::BlendMode mode = scene::BlendMode::multiply) {
  scene::Layer l;
  l.id = {id};
  l.name = "light";
  l.mode = mode;
  l.content = scene::LightContent{{2}, std::move(kind)};
  return l;
}

scene::CastShadow cast(double azimuth, double elevation, double size = 0.5) {
  scene::CastShadow s;
  s.light = {azimuth, elevation, size};
  s.foot = {30, 210};
  s.density = 1;
  s.fadeHeights = 100;
  s.colour = {0, 0, 0};
  return s;
}

scene::Scene onFloor(const scene::Layer& shadow, const scene::Layer& caster) {
  scene::Scene s;
  s.canvas = kLitCanvas;
  s.floor = floor();
  s.layers = {
      ref(test::pictureLayer(1, test::picture(kLitCanvas.width, kLitCanvas.height, 3, [](int, int, int) { return 230; }))),
      ref(shadow), ref(caster)};
  return s;
}

bool dark(const image::Raster<float>& r, double x, double y) {
  const int px = int(x), py = int(y);
  return px >= 0 && py >= 0 && px < r.width() && py < r.height() && r.at(px, py)[0] < 0.45f;
}

}  // namespace

class LightsTest : public QObject {
  Q_OBJECT
 private slots:
  void theTipLiesWhereTheLightSaysSo_data() {
    QTest::addColumn<double>("azimuth");
    QTest::addColumn<double>("elevation");
    for (const auto& [a, e] : {std::pair(-150.0, 50.0), {150.0, 40.0}, {-90.0, 35.0}, {-60.0, 55.0}, {30.0, 35.0}, {100.0, 30.0}})
      QTest::addRow("%g %g", a, e) << a << e;
  }
  // The middle of the post's head, cast along the light onto the floor and seen by the camera: the shadow ends there, to 1.5 % of
  // its length, and does not go on.
  void theTipLiesWhereTheLightSaysSo() {
    QFETCH(double, azimuth);
    QFETCH(double, elevation);
    const base::Point foot{430, 520};
    const scene::FloorCamera camera(floor(), kLitCanvas);
    const auto at = *camera.floorAt(foot);
    const double heightM = 200 / *scene::heightAtFoot(camera, foot, 1), way = heightM / std::tan(elevation * M_PI / 180);
    const auto placeAt = [&](double share) {
      const double a = azimuth * M_PI / 180;
      return *camera.project({at[0] - std::sin(a) * way * share, 0, at[2] + std::cos(a) * way * share});
    };
    const auto shown = test::rendered(onFloor(light(3, cast(azimuth, elevation)), post(foot.x, foot.y)));
    const base::Point tip = placeAt(1), before = placeAt(0.985), middle = placeAt(0.5);
    const double length = std::hypot(tip.x - foot.x, tip.y - foot.y);
    QVERIFY(length > 60);
    QVERIFY(dark(shown, before.x, before.y) || length < 100);
    QVERIFY(dark(shown, middle.x, middle.y));
    const base::Point beyond = placeAt(1 + std::max(0.015, 2 / length));
    QVERIFY(!dark(shown, beyond.x, beyond.y));
    // The other side is free.
    const base::Point opposite = placeAt(-0.4);
    if (!(std::abs(opposite.x - foot.x) < 14)) QVERIFY(!dark(shown, opposite.x, opposite.y));
  }
  // The penumbra is as wide as the light is seen from there: a quarter to three quarters of a disc lie within 0.4 of its width.
  void theEdgeSoftensWithDistance() {
    const base::Point foot{450, 470};
    const scene::FloorCamera camera(floor(), kLitCanvas);
    scene::Layer box =
        test::pictureLayer(2, test::picture(300, 220, 3, [](int, int, int) { return 255; }), foot.x - 150, foot.y - 210);
    box.mask.coverage =
        test::picture(300, 220, 1, [](int x, int y, int) { return x >= 50 && x < 250 && y >= 10 && y < 210 ? 255 : 0; });
    auto s = cast(180, 45, 8);  // from ahead: the shadow comes towards the camera
    s.foot = {150, 210};
    const auto shown = test::rendered(onFloor(light(3, s), box));
    const auto at = *camera.floorAt(foot);
    const double heightM = 200 / *scene::heightAtFoot(camera, foot, 1);
    const double ground = image::linearFromEncoded(230 / 255.0);
    const auto widthAt = [&](double share) {
      double first = 0, last = 0;
      for (double x = at[0]; x < at[0] + 1; x += 0.0005) {
        const auto p = *camera.project({x, 0, at[2] - share * heightM});
        if (p.x >= kLitCanvas.width - 1 || p.y >= kLitCanvas.height - 1) break;
        const double a = 1 - image::linearFromEncoded(double(shown.at(int(p.x), int(p.y))[0])) / ground;
        if (a > 0.75) first = x;
        if (a > 0.25) last = x;
      }
      return last - first;
    };
    for (const double share : {0.35, 0.8}) {
      const double slant = share * heightM / std::cos(M_PI / 4), truth = 0.4 * 2 * slant * std::tan(4 * M_PI / 180);
      QVERIFY2(std::abs(widthAt(share) / truth - 1) < 0.3,
               qPrintable(QStringLiteral("%1 for %2").arg(widthAt(share)).arg(truth)));
    }
  }
  void aWallBendsItUp() {
    const base::Point foot{430, 520};
    auto s = cast(-25, 30);  // light from behind the camera and the left: the shadow goes away and to the right
    s.wallY = 490;
    const auto shown = test::rendered(onFloor(light(3, s), post(foot.x, foot.y)));
    // Up the wall it stands upright, as tall as what the way to it leaves.
    const scene::FloorCamera camera(floor(), kLitCanvas);
    const auto at = *camera.floorAt(foot), wall = *camera.floorAt({430, 490});
    const double heightM = 200 / *scene::heightAtFoot(camera, foot, 1), a = -25 * M_PI / 180;
    const double way = (wall[2] - at[2]) / std::cos(a), up = heightM - way * std::tan(30 * M_PI / 180);
    QVERIFY(up > 0.3);
    const base::Point top = *camera.project({at[0] - std::sin(a) * way, up, wall[2]});
    QVERIFY(dark(shown, top.x, top.y + 4) && !dark(shown, top.x, top.y - 4));
    s.wallY = 0;
    QVERIFY(!dark(test::rendered(onFloor(light(3, s), post(foot.x, foot.y))), top.x, top.y + 7));
  }
  void itFollowsItsCasterAndFadesAndHides() {
    auto s = cast(-90, 40);
    scene::Scene a = onFloor(light(3, s), post(300, 520)), b = onFloor(light(3, s), post(420, 520));
    const auto before = test::rendered(a), after = test::rendered(b);
    for (const int x : {340, 370, 400, 440}) QVERIFY(dark(before, x, 519) && dark(after, x + 120, 519));
    QVERIFY(!dark(before, 370, 500) && !dark(after, 370, 519));
    const auto rects = scene::difference(a, b);
    for (int y = 0; y < kLitCanvas.height; ++y) {
      for (int x = 0; x < kLitCanvas.width; ++x) {
        if (before.at(x, y)[0] == after.at(x, y)[0]) continue;
        QVERIFY(std::any_of(rects.begin(), rects.end(), [&](const base::Rect& r) { return r.contains(x, y); }));
      }
    }
    s.fadeHeights = 0.5;
    const auto faded = test::rendered(onFloor(light(3, s), post(300, 520)));
    QVERIFY(faded.at(440, 519)[0] > faded.at(340, 519)[0] + 0.1f);
    scene::Layer hidden = post(300, 520);
    hidden.hidden = true;
    QVERIFY(!dark(test::rendered(onFloor(light(3, s), hidden)), 380, 519));
  }
  void theSameHoweverItIsSplitAndNearlyTheSameOnALevel() {
    const scene::Scene s = onFloor(light(3, cast(-120, 35, 4)), post(430, 520));
    const auto whole = test::rendered(s);
    const base::Rect part{300, 400, 200, 150};
    const auto piece = test::must(render::Renderer().render(s, part, 0, test::here()));
    double worst = 0;
    for (int y = 0; y < part.height; ++y) {
      for (int x = 0; x < part.width; ++x)
        worst = std::max(worst, std::abs(double(piece.at(x, y)[0] - whole.at(part.x + x, part.y + y)[0])));
    }
    QVERIFY2(worst < 2e-3, qPrintable(QString::number(worst)));
    const auto half = test::rendered(s, 1);
    double sum = 0;
    for (int y = 200; y < 300; ++y) {
      for (int x = 150; x < 300; ++x) sum += std::abs(double(half.at(x, y)[0]) - double(whole.at(2 * x, 2 * y)[0]));
    }
    QVERIFY2(sum / 15000 < 0.01, qPrintable(QString::number(sum / 15000)));
  }
  void contactIsDarkOnItsLineAndHalfAtItsWidth() {
    scene::ContactShadow c;
    c.line = {{10, 210}, {50, 210}};
    c.widthPx = 20;
    c.density = 0.8;
    c.flatness = 0.5;
    c.colour = {0, 0, 0};
    scene::Layer l = light(3, c, scene::BlendMode::normal);
    scene::Scene s = onFloor(l, post(430, 520));
    s.layers.pop_back();
    scene::Layer caster = post(430, 520);
    caster.opacity = 0;
    s.layers.push_back(ref(caster));
    const auto shown = test::rendered(s);
    const double ground = image::linearFromEncoded(230 / 255.0);
    const auto share = [&](int x, int y) { return 1 - image::linearFromEncoded(double(shown.at(x, y)[0])) / ground; };
    QVERIFY(std::abs(share(430, 520) - 0.8) < 0.01);
    QVERIFY(std::abs(share(430, 530) - 0.4) < 0.03);       // 10 px down is 20 px on the floor
    QVERIFY(std::abs(share(450 + 20, 520) - 0.4) < 0.03);  // 20 px beyond the line's end
    QVERIFY(share(430, 590) < 0.001);
  }
  void shadingFollowsTheLightAndSparesTheMiddle() {
    scene::Layer ball = test::pictureLayer(2, test::picture(300, 300, 3, [](int, int, int) { return 120; }), 300, 200);
    ball.mask.coverage = test::picture(
        300, 300, 1, [](int x, int y, int) { return 255 * std::clamp(120.5 - std::hypot(x - 149.5, y - 149.5), 0.0, 1.0); });
    scene::Shading sh;
    sh.light = {-90, 20, 1};
    sh.roundPx = 100;
    sh.lights = sh.darks = 0.8;
    scene::Layer l = light(3, sh, scene::BlendMode::softLight);
    l.clip = true;
    scene::Scene s = onFloor(ball, l);
    s.layers = {s.layers[0], ref(ball), ref(l)};
    const auto shown = test::rendered(s);
    const float left = shown.at(350, 350)[0], middle = shown.at(450, 350)[0], right = shown.at(550, 350)[0];
    QVERIFY(left > middle + 0.06f && right < middle - 0.06f);
    QVERIFY(std::abs(middle - 120.f / 255) < 0.03f);
    QVERIFY(std::abs(shown.at(20, 20)[0] - 230.f / 255) < 1e-3f);
  }
  void aLitEdgeIsABandOnTheLightsSide() {
    scene::Layer box = test::pictureLayer(2, test::picture(300, 300, 3, [](int, int, int) { return 60; }), 300, 200);
    box.mask.coverage =
        test::picture(300, 300, 1, [](int x, int y, int) { return x >= 50 && x < 250 && y >= 50 && y < 250 ? 255 : 0; });
    scene::EdgeLight e;
    e.light = {90, 10, 1};
    e.widthPx = 8;
    e.softness = 0;
    e.lit = 1, e.dark = 1;
    e.litColour = {1, 1, 1}, e.darkColour = {0, 0, 0};
    scene::Layer l = light(3, e, scene::BlendMode::normal);
    l.clip = true;
    scene::Scene s = onFloor(box, l);
    s.layers = {s.layers[0], ref(box), ref(l)};
    const auto shown = test::rendered(s);
    QVERIFY(shown.at(547, 350)[0] > 0.9f);                          // 3 px inside the right edge
    QVERIFY(shown.at(352, 350)[0] < 0.05f);                         // and the left one
    QVERIFY(std::abs(shown.at(450, 350)[0] - 60.f / 255) < 1e-3f);  // the middle
    QVERIFY(std::abs(shown.at(530, 350)[0] - 60.f / 255) < 0.02f);  // 20 px in
  }
  void fillsAreWhatTheySay() {
    scene::Scene s;
    s.canvas = {200, 100};
    scene::Layer l;
    l.id = {1};
    scene::GradientFill g;
    g.from = {0, 0}, g.to = {200, 0};
    g.stops = {{0, {0, 0, 0}, 1}, {1, {1, 1, 1}, 0.5}};
    l.content = scene::FillContent{g, nullptr};
    s.layers = {ref(l)};
    auto shown = test::rendered(s);
    // Half-way: half the light, three quarters of the coverage.
    QVERIFY(std::abs(image::linearFromEncoded(double(shown.at(100, 50)[0])) - 0.5025) < 2e-3);
    QVERIFY(std::abs(shown.at(100, 50)[3] - 0.75f) < 2e-3f);
    g.form = scene::GradientFill::Form::round;
    g.from = {100, 50}, g.to = {150, 50};
    g.stops[1].coverage = 1;
    l.content = scene::FillContent{g, nullptr};
    s.layers = {ref(l)};
    shown = test::rendered(s);
    QVERIFY(std::abs(shown.at(125, 50)[0] - shown.at(100, 75)[0]) < 0.02f && shown.at(160, 50)[0] > 0.999f);
    scene::NoiseFill n;
    n.sizePx = 30;
    l.content = scene::FillContent{n, nullptr};
    s.layers = {ref(l)};
    shown = test::rendered(s);
    double sum = 0, squares = 0;
    for (std::size_t i = 0; i < shown.pixels(); ++i) {
      const double v = double(shown.samples()[i * 4]);
      sum += v, squares += v * v;
    }
    const double mean = sum / 20000;
    QVERIFY(std::abs(mean - 0.5) < 0.06 && std::sqrt(squares / 20000 - mean * mean) > 0.04);
    QVERIFY(std::abs(shown.at(50, 50)[0] - shown.at(51, 50)[0]) < 0.05f);
  }
  // Whatever has a shape casts: the same post as a group, as words would be (a fill with a mask), bent to another place, and with
  // half of it taken away by a gradient.
  void groupsFillsAndBentPicturesCastAsTheyShow() {
    const base::Point foot{450, 470};
    const scene::CastShadow asPicture = cast(-140, 45);
    scene::CastShadow onCanvas = asPicture;
    onCanvas.foot = {foot.x, foot.y};
    const auto reference = test::rendered(onFloor(light(3, asPicture), post(foot.x, foot.y)));
    const auto differs = [&](const image::Raster<float>& shown) {
      double most = 0;
      // The caster itself is looked at by other tests.
      for (int y = 0; y < kLitCanvas.height; ++y) {
        for (int x = 0; x < kLitCanvas.width; ++x) {
          if (std::abs(x - foot.x) <= 12) continue;
          const auto lightAt = [&](const auto& r) { return image::linearFromEncoded(double(r.at(x, y)[0])); };
          most = std::max(most, std::abs(lightAt(shown) - lightAt(reference)));
        }
      }
      return most;
    };
    scene::Layer group;
    group.id = {2};
    scene::Layer inner = post(foot.x, foot.y);
    inner.id = {9};
    group.content = scene::GroupContent{{ref(inner)}, true};
    QVERIFY2(differs(test::rendered(onFloor(light(3, onCanvas), group))) < 0.03, "group");

    scene::Layer fill;
    fill.id = {2};
    fill.content = scene::FillContent{};
    fill.mask.coverage = test::picture(kLitCanvas.width, kLitCanvas.height, 1, [&](int x, int y, int) {
      return std::abs(x + 0.5 - foot.x) < 10 && y >= foot.y - 200 && y < foot.y ? 255 : 0;
    });
    QVERIFY2(differs(test::rendered(onFloor(light(3, onCanvas), fill))) < 0.03, "fill");

    // Set 40 px to the left and bent back by as much.
    scene::Layer bent = post(foot.x - 40, foot.y);
    scene::Warp warp;
    warp.corners = {{40, 0}, {100, 0}, {100, 220}, {40, 220}};
    std::get<scene::PictureContent>(bent.content).warp = std::make_shared<const scene::Warp>(warp);
    scene::CastShadow moved = asPicture;
    moved.foot.x += 40;
    QVERIFY2(differs(test::rendered(onFloor(light(3, moved), bent))) < 0.06, "bent");

    // With a light from ahead the shadow lies towards the camera; its right half goes with the post's.
    const scene::CastShadow ahead = cast(180, 45);
    scene::Layer half = post(foot.x, foot.y);
    scene::GradientPart gradient;
    gradient.from = {29.9, 100}, gradient.to = {30.1, 100};
    half.mask.numbers.parts.push_back({gradient});
    const auto whole = test::rendered(onFloor(light(3, ahead), post(foot.x, foot.y))),
               cut = test::rendered(onFloor(light(3, ahead), half));
    int darkBoth = 0, darkWhole = 0;
    for (int x = 400; x < 500; ++x) darkWhole += dark(whole, x, foot.y + 60), darkBoth += dark(cut, x, foot.y + 60);
    QVERIFY2(darkWhole >= 16 && std::abs(darkBoth - darkWhole / 2) <= 2,
             qPrintable(QStringLiteral("%1 of %2").arg(darkBoth).arg(darkWhole)));
  }
};

HSEAM_TEST(LightsTest);
#include "lights_test.moc"
