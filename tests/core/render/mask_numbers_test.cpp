// Parts of a mask, showing by brightness and a ramp of focus, against their definitions written a second time.

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "scenes.h"

using namespace hseam;
using namespace hseam::scene;
using test::ref;

namespace {

// Grey rising from left to right, on black.
constexpr int kWide = 256, kHigh = 64;
image::TiledImage ramp() {
  return test::picture(kWide, kHigh, 3, [](int x, int, int) { return x; });
}
double toneOf(double encoded) {
  const double y = image::linearFromEncoded(encoded);
  return y > 216.0 / 24389 ? 1.16 * std::cbrt(y) - 0.16 : y * 24389 / 2700;
}

// A white picture with a mask over black: what shows in light is the mask's value.
struct Shown {
  Scene scene;
  image::Raster<float> pixels{1, 1, 4};
  double mask(int x, int y) const { return image::linearFromEncoded(double(pixels.at(x, y)[0])); }
};
Shown masked(const MaskNumbers& numbers, const image::TiledImage& coverage = {}, Placement at = {}) {
  Shown out;
  out.scene = test::sceneOf(test::picture(kWide, kHigh, 3, [](int, int, int) { return 0; }));
  Layer l = test::pictureLayer(2, test::picture(kWide, kHigh, 3, [](int, int, int) { return 255; }));
  std::get<PictureContent>(l.content).placement = at;
  l.mask.coverage = coverage;
  l.mask.numbers = numbers;
  out.scene.layers.push_back(ref(l));
  out.pixels = test::rendered(out.scene);
  return out;
}
MaskPart part(decltype(MaskPart::kind) kind, MaskPart::Joins joins = MaskPart::Joins::within, bool inverted = false,
              double strength = 1) {
  return {std::move(kind), joins, inverted, strength};
}
MaskNumbers with(std::vector<MaskPart> parts) {
  MaskNumbers n;
  n.parts = std::move(parts);
  return n;
}
GradientPart along(base::Point from, base::Point to, GradientFill::Form form = GradientFill::Form::along) {
  return {form, from, to};
}

}  // namespace

class MaskNumbersTest : public QObject {
  Q_OBJECT
 private slots:
  void gradientsFallAlongTheirLines() {
    const base::Point a{40, 10}, b{200, 50};
    for (const auto form : {GradientFill::Form::along, GradientFill::Form::round, GradientFill::Form::mirrored}) {
      const Shown s = masked(with({part(along(a, b, form))}));
      double worst = 0;
      for (int y = 0; y < kHigh; y += 3) {
        for (int x = 0; x < kWide; x += 5) {
          const double dx = b.x - a.x, dy = b.y - a.y, px = x + 0.5 - a.x, py = y + 0.5 - a.y;
          double t = form == GradientFill::Form::round ? std::hypot(px, py) / std::hypot(dx, dy)
                                                       : (px * dx + py * dy) / (dx * dx + dy * dy);
          if (form == GradientFill::Form::mirrored) t = std::abs(t);
          worst = std::max(worst, std::abs(s.mask(x, y) - (1 - std::clamp(t, 0.0, 1.0))));
        }
      }
      QVERIFY2(worst < 1e-3, qPrintable(QString::number(worst)));
    }
  }
  void partsJoinOneAfterAnother() {
    // Halves: the left one by a steep gradient, the upper one by another.
    const auto left = along({127.99, 0}, {128.01, 0}), upper = along({0, 31.99}, {0, 32.01});
    const auto value = [&](MaskPart::Joins joins, bool inverted, double strength, int x, int y) {
      return masked(with({part(left), part(upper, joins, inverted, strength)})).mask(x, y);
    };
    using J = MaskPart::Joins;
    const struct {
      J joins;
      bool inverted;
      double strength, leftUp, leftDown, rightUp, rightDown;
    } rows[] = {{J::within, false, 1, 1, 0, 0, 0},       {J::within, true, 1, 0, 1, 0, 0},
                {J::within, false, 0.4, 1, 0.6, 0, 0},   {J::also, false, 1, 1, 1, 1, 0},
                {J::also, false, 0.3, 1, 1, 0.3, 0},     {J::without, false, 1, 0, 1, 0, 0},
                {J::without, false, 0.25, 0.75, 1, 0, 0}};
    for (const auto& r : rows) {
      QVERIFY(std::abs(value(r.joins, r.inverted, r.strength, 30, 10) - r.leftUp) < 2e-3);
      QVERIFY(std::abs(value(r.joins, r.inverted, r.strength, 30, 50) - r.leftDown) < 2e-3);
      QVERIFY(std::abs(value(r.joins, r.inverted, r.strength, 220, 10) - r.rightUp) < 2e-3);
      QVERIFY(std::abs(value(r.joins, r.inverted, r.strength, 220, 50) - r.rightDown) < 2e-3);
    }
  }
  void tonesAreThePicturesOwnAndOfAnAdjustmentThoseBelow() {
    // An adjustment to white within tones 40 to 60, fading over 10.
    Scene s = test::sceneOf(ramp());
    Layer white = test::adjustmentLayer(2, Levels{0, 1, 1, 1, 1});
    white.mask.numbers = with({part(TonesPart{0.4, 0.6, 0.1})});
    s.layers.push_back(ref(white));
    const auto out = test::rendered(s);
    for (int x = 0; x < kWide; x += 3) {
      const double tone = toneOf(x / 255.0), share = std::clamp(1 - std::max({0.4 - tone, tone - 0.6, 0.0}) / 0.1, 0.0, 1.0);
      const double before = image::linearFromEncoded(x / 255.0);
      QVERIFY(std::abs(image::linearFromEncoded(double(out.at(x, 20)[1])) - (before + share * (1 - before))) < 2e-3);
    }
    // Of a picture: the ramp itself, its lights alone, over black.
    Scene own = test::sceneOf(test::picture(kWide, kHigh, 3, [](int, int, int) { return 0; }));
    Layer l = test::pictureLayer(2, ramp());
    l.mask.numbers = with({part(TonesPart{0.7, 1, 0})});
    own.layers.push_back(ref(l));
    const auto lights = test::rendered(own);
    for (int x = 0; x < kWide; ++x) QCOMPARE(lights.at(x, 5)[0] > 0, toneOf(x / 255.0) >= 0.7);
  }
  void coloursCountByTheirDistance() {
    const auto patches =
        test::picture(kWide, kHigh, 3, [](int x, int y, int c) { return (x / 16 * (c + 3) * 9 + y / 16 * 40) % 256; });
    Scene s = test::sceneOf(test::picture(kWide, kHigh, 3, [](int, int, int) { return 0; }));
    Layer l = test::pictureLayer(2, patches);
    const std::array<double, 3> wanted{0.5, 0.45, 0.4};
    l.mask.numbers = with({part(ColourPart{wanted, 25, 30})});
    s.layers.push_back(ref(l));
    const auto out = test::rendered(s);
    const auto pixels = test::must(image::read8(patches, 0, {0, 0, kWide, kHigh}));
    int partly = 0;
    for (int y = 8; y < kHigh; y += 16) {
      for (int x = 8; x < kWide; x += 16) {
        std::array<double, 3> is{};
        for (std::size_t c = 0; c < 3; ++c) is[c] = pixels.at(x, y)[c] / 255.0;
        const image::Lab p = image::labFromEncoded(is), q = image::labFromEncoded(wanted);
        const double d = std::sqrt(std::pow(p.l - q.l, 2) + std::pow(p.a - q.a, 2) + std::pow(p.b - q.b, 2));
        const double share = std::clamp(1 - (d - 25) / 30, 0.0, 1.0);
        partly += share > 0 && share < 1;
        for (std::size_t c = 0; c < 3; ++c)
          QVERIFY(std::abs(image::linearFromEncoded(double(out.at(x, y)[int(c)])) - share * image::linearFromEncoded(is[c])) <
                  2e-3);
      }
    }
    QVERIFY(partly > 5);
  }
  void anotherLayersShapeIsFollowed() {
    Shown s = masked(with({part(LayerPart{{3}})}));
    Layer shape = test::pictureLayer(3, test::picture(40, 40, 3, [](int, int, int) { return 90; }), 60, 10);
    shape.hidden = true;
    s.scene.layers.insert(s.scene.layers.begin() + 1, ref(shape));
    const auto out = test::rendered(s.scene);
    QVERIFY(out.at(80, 30)[0] == 1.f && out.at(120, 30)[0] == 0.f && out.at(80, 55)[0] == 0.f);
    // Moving it is a change where the mask's layer lies, and shows.
    Placement moved;
    moved.x = 160, moved.y = 10;
    const Scene next = test::must(scene::apply(s.scene, SetPlacement{{3}, moved}));
    bool reached = false;
    for (const base::Rect& r : difference(s.scene, next)) reached |= !r.intersected({0, 0, 10, 10}).empty();
    QVERIFY(reached);
    QVERIFY(test::rendered(next).at(180, 30)[0] == 1.f && test::rendered(next).at(80, 30)[0] == 0.f);
    // One that looks at another and back comes to an end.
    Layer back = *s.scene.layers[1];
    back.mask.numbers = with({part(LayerPart{{2}})});
    s.scene.layers[1] = ref(back);
    static_cast<void>(test::rendered(s.scene));
  }
  void theLowestRevealAndTheSoftness() {
    const auto half = test::picture(kWide, kHigh, 1, [](int x, int, int) { return x < 128 ? 255 : 0; });
    MaskNumbers n;
    n.lowest = 0.2;
    QVERIFY(std::abs(masked(n, half).mask(220, 30) - 0.2) < 1e-3 && std::abs(masked(n, half).mask(20, 30) - 1) < 1e-3);
    n = {};
    n.softnessPx = 12;
    const Shown soft = masked(n, half);
    double worst = 0;
    for (int x = 0; x < kWide; ++x)
      worst = std::max(worst, std::abs(soft.mask(x, 30) - 0.5 * std::erfc((x + 0.5 - 128) / (12 * std::sqrt(2.0)))));
    QVERIFY2(worst < 6e-3, qPrintable(QString::number(worst)));
    // The mask's own border does not fade.
    QVERIFY(std::abs(soft.mask(0, 0) - 1) < 2e-3 && std::abs(soft.mask(3, kHigh - 1) - 1) < 2e-3);
    // In a picture at half its size the softness is half as wide.
    Placement small;
    small.scale = 0.5;
    const Shown less = masked(n, half, small);
    QVERIFY(std::abs(less.mask(70, 16) - 0.5 * std::erfc((70.5 - 64) / (6 * std::sqrt(2.0)))) < 1e-2);
  }
  void softnessIsTheSameHoweverTheAreaIsSplit_data() {
    QTest::addColumn<double>("px");
    QTest::addColumn<bool>("bent");
    for (const double px : {3.0, 11.0, 14.0, 60.0, 200.0}) {
      for (const bool bent : {false, true}) QTest::addRow("%g px%s", px, bent ? ", bent" : "") << px << bent;
    }
  }
  void softnessIsTheSameHoweverTheAreaIsSplit() {
    QFETCH(double, px);
    QFETCH(bool, bent);
    scene::Layer l = test::pictureLayer(1, test::colours(640, 480, 2), 11, 7);
    l.mask.coverage = test::disc(640, 480, 4);
    l.mask.numbers.softnessPx = px;
    auto& p = std::get<scene::PictureContent>(l.content);
    p.placement.scale = 0.9;
    p.placement.rotationDeg = 8;
    if (bent) {
      scene::Warp warp;
      warp.corners = {{30, 10}, {640, 0}, {600, 470}, {0, 480}};
      p.warp = std::make_shared<const scene::Warp>(warp);
    }
    scene::Scene s;
    s.canvas = {660, 500};
    s.layers = {ref(l)};
    render::Renderer renderer;
    const auto whole = test::must(renderer.render(s, {0, 0, 660, 500}, 0, test::here()));
    for (const base::Rect& part : {base::Rect{37, 91, 61, 45}, {301, 0, 359, 77}, {129, 255, 1, 1}, {400, 300, 200, 190}}) {
      render::Renderer other;
      const auto alone = test::must(other.render(s, part, 0, test::here()));
      for (int y = 0; y < part.height; ++y) {
        for (int x = 0; x < part.width; ++x) {
          for (int c = 0; c < 4; ++c) QCOMPARE(alone.at(x, y)[c], whole.at(part.x + x, part.y + y)[c]);
        }
      }
    }
  }
  void wideSoftnessIsAGaussianWithinTheMask() {
    // Against the definition, laid directly: over what lies within the mask, its border neither dark nor hard.
    constexpr int kW = 400, kH = 300;
    constexpr double kSigma = 30;
    const auto mask = test::picture(kW, kH, 1, [](int x, int y, int) { return (x > 120) != (y > 90 && x < 300) ? 255 : 0; });
    MaskNumbers n;
    n.softnessPx = kSigma;
    scene::Layer l = test::pictureLayer(1, test::picture(kW, kH, 3, [](int, int, int) { return 255; }));
    l.mask.coverage = mask;
    l.mask.numbers = n;
    scene::Scene s;
    s.canvas = {kW, kH};
    s.layers = {ref(l)};
    const auto shown = test::rendered(s);
    const auto values = test::must(image::readFloat(mask, 0, {0, 0, kW, kH}));
    double worst = 0;
    for (const auto& [cx, cy] : {std::pair(0, 0), {120, 90}, {200, 150}, {399, 299}, {299, 40}, {60, 280}}) {
      double sum = 0, weight = 0;
      for (int y = std::max(0, cy - 90); y < std::min(kH, cy + 91); ++y) {
        for (int x = std::max(0, cx - 90); x < std::min(kW, cx + 91); ++x) {
          const double w = std::exp(-0.5 * ((x - cx) * (x - cx) + (y - cy) * (y - cy)) / (kSigma * kSigma));
          sum += w * double(*values.at(x, y)), weight += w;
        }
      }
      worst = std::max(worst, std::abs(double(shown.at(cx, cy)[3]) - sum / weight));
    }
    QVERIFY2(worst < 4e-3, qPrintable(QString::number(worst)));
  }
  void aHeldMaskStaysWhileItsPictureMoves() {
    const auto window =
        test::picture(kWide, kHigh, 1, [](int x, int y, int) { return x > 40 && x < 100 && y > 10 && y < 50 ? 255 : 0; });
    MaskNumbers n;
    n.heldAt = Placement{};
    Placement moved;
    moved.x = 60;
    const Shown s = masked(n, window, moved);
    // Shows where the mask was and the picture is.
    QVERIFY(s.mask(80, 30) > 0.99 && s.mask(50, 30) < 0.01 && s.mask(140, 30) < 0.01);
    const Shown along = masked({}, window, moved);
    QVERIFY(along.mask(140, 30) > 0.99 && along.mask(80, 30) < 0.01);
  }
  void showingByBrightness() {
    const ToneRange shows{{0.1, 0.3, 0.6, 0.9}, {0, 0.2, 0.5, 0.6}};
    // Own tones from left to right, those below from top to bottom.
    Scene s = test::sceneOf(test::picture(kWide, 256, 3, [](int, int y, int) { return y; }));
    Layer l = test::pictureLayer(2, test::picture(kWide, 256, 3, [](int x, int, int) { return x; }));
    l.shows = shows;
    s.layers.push_back(ref(l));
    const auto out = test::rendered(s);
    const auto share = [](const std::array<double, 4>& t, double v) {
      if (v < t[0] || v > t[3]) return 0.0;
      if (v < t[1]) return (v - t[0]) / (t[1] - t[0]);
      return v > t[2] ? (t[3] - v) / (t[3] - t[2]) : 1.0;
    };
    double worst = 0;
    for (int y = 0; y < 256; y += 7) {
      for (int x = 0; x < kWide; x += 7) {
        const double a = share(shows.own, toneOf(x / 255.0)) * share(shows.below, toneOf(y / 255.0));
        const double light = a * image::linearFromEncoded(x / 255.0) + (1 - a) * image::linearFromEncoded(y / 255.0);
        worst = std::max(worst, std::abs(image::linearFromEncoded(double(out.at(x, y)[0])) - light));
      }
    }
    QVERIFY2(worst < 2e-3, qPrintable(QString::number(worst)));
    // Over nothing, what lies below does not count.
    s.layers.erase(s.layers.begin());
    const auto alone = test::rendered(s);
    QVERIFY(std::abs(double(alone.at(128, 3)[3]) - share(shows.own, toneOf(128 / 255.0))) < 1e-3);
  }
  void aRampOfFocusGrowsAlongItsLine() {
    // Thin lines spread to chords of the disc: their peaks tell the radius at each height.
    Scene s = test::sceneOf(test::picture(400, 300, 3, [](int x, int, int) { return x % 100 == 50 ? 255 : 0; }));
    ParametricAdjustment n = scene::with(parametric(AdjustmentId::defocus), "radius", 24);
    n = scene::with(n, "glow", 0);
    n = scene::with(n, "sharpY", 0.1);
    n = scene::with(n, "fullY", 0.9);
    s.layers.push_back(ref(test::adjustmentLayer(2, n)));
    const auto out = test::rendered(s);
    const auto peak = [&](int y) { return image::linearFromEncoded(double(out.at(150, y)[1])); };
    QVERIFY(peak(10) > 0.99);
    double last = 1;
    for (const int y : {70, 110, 150, 190, 230}) {
      // The middle of a line spread over a disc of radius r: 2r of π r².
      const double r = 24 * (y + 0.5 - 30) / 240, expected = 2 / (M_PI * r);
      QVERIFY2(std::abs(peak(y) / expected - 1) < 0.16,
               qPrintable(QStringLiteral("%1: %2 for %3").arg(y).arg(peak(y)).arg(expected)));
      QVERIFY(peak(y) < last);
      last = peak(y);
    }
    // The same bits however the area is split.
    render::Renderer renderer;
    const auto one = test::must(renderer.render(s, {140, 100, 20, 20}, 0, test::here()));
    for (int y = 0; y < 20; ++y) QCOMPARE(one.at(3, y)[1], out.at(143, 100 + y)[1]);
  }
  void everySplitOfTheAreaGivesTheSame() {
    MaskNumbers n = with({part(along({20, 10}, {220, 60})), part(TonesPart{0.2, 0.9, 0.2})});
    n.softnessPx = 6;
    const Shown s = masked(n, test::picture(kWide, kHigh, 1, [](int x, int y, int) { return (x / 16 + y / 16) % 2 * 255; }));
    render::Renderer renderer;
    const auto piece = test::must(renderer.render(s.scene, {100, 20, 50, 30}, 0, test::here()));
    double worst = 0;
    for (int y = 0; y < 30; ++y) {
      for (int x = 0; x < 50; ++x) worst = std::max(worst, double(std::abs(piece.at(x, y)[0] - s.pixels.at(100 + x, 20 + y)[0])));
    }
    QVERIFY2(worst < 1e-5, qPrintable(QString::number(worst)));
  }
};

HSEAM_TEST(MaskNumbersTest);
#include "mask_numbers_test.moc"
