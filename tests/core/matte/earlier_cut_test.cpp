// Two cuts held against each other, a stretch taken back, the first look, and clean colours under another picture.

#include "core/matte/earlier_cut.h"

#include "core/matte/foreground.h"
#include "core/matte/quick_look.h"
#include "core/matte/solver.h"
#include "pictures.h"
#include "truth/rendered_mattes.h"

using namespace hseam;

namespace {

constexpr int kSide = 400;

image::TiledImage bumpyDisc(double radius, double bump = 0) {
  return test::picture(kSide, kSide, 1, [=](int x, int y, int) {
    const double dx = x + 0.5 - 200, dy = y + 0.5 - 200;
    // The bump stands on the right.
    const double r = radius + (dx > 0 ? bump * std::exp(-dy * dy / (2 * 30 * 30)) : 0);
    return 255 * std::clamp(r - std::hypot(dx, dy) + 0.5, 0.0, 1.0);
  });
}

double sumOfDifferences(const image::TiledImage& a) {
  const auto v = test::must(image::readFloat(a, 0, {0, 0, kSide, kSide}));
  double sum = 0;
  for (const float f : v.samples()) sum += double(f);
  return sum;
}

}  // namespace

class EarlierCutTest : public QObject {
  Q_OBJECT
 private slots:
  void whatWasGainedIsTheAreaBetween() {
    const image::TiledImage before = bumpyDisc(100), after = bumpyDisc(100, 8);
    const auto d = test::must(matte::cutDifference(before, after, test::here(), {}));
    const double truth = sumOfDifferences(after) - sumOfDifferences(before);
    QVERIFY2(std::abs(d.all.gained - truth) < 0.01 * truth, qPrintable(QString::number(d.all.gained)));
    QVERIFY(d.all.lost < 1);
    // A crisp edge: all of it belongs to solid stretches.
    QVERIFY(d.byKind[0].gained > 0.97 * truth);
    const auto where = test::must(image::read8(d.where, 0, {0, 0, kSide, kSide}));
    QCOMPARE(*where.at(304, 200), matte::kGained);
    QCOMPARE(*where.at(96, 200), matte::kAlike);
    const auto back = test::must(matte::cutDifference(after, before, test::here(), {}));
    QVERIFY(std::abs(back.all.lost - truth) < 0.01 * truth);
    const auto none = test::must(matte::cutDifference(before, before, test::here(), {}));
    QCOMPARE(none.all.lost + none.all.gained, 0.0);
  }
  void aStretchIsTakenBackAndNothingElse() {
    const image::TiledImage then = bumpyDisc(100), now = bumpyDisc(104, 8);
    const matte::Unrolled outline = test::must(matte::unrolled(now));
    int first = -1, count = 0;
    for (int i = 0; i < int(outline.places.size()); ++i) {
      const auto p = outline.places[std::size_t(i)].at;
      if (p.x > 200 && std::abs(p.y - 200) < 40) first = first < 0 ? i : first, ++count;
    }
    const auto mark = matte::markedFrom(outline, first, count);
    const auto back = test::must(matte::stretchTakenBack({now, {}, now}, {then, {}, then}, mark, test::here()));
    const auto a = test::must(image::read8(back.alpha, 0, {0, 0, kSide, kSide})),
               n = test::must(image::read8(now, 0, {0, 0, kSide, kSide})),
               t = test::must(image::read8(then, 0, {0, 0, kSide, kSide}));
    for (int y = 175; y < 225; ++y) {
      for (int x = 260; x < 340; ++x) QCOMPARE(*a.at(x, y), *t.at(x, y));
    }
    for (int y = 0; y < kSide; ++y) {
      for (int x = 0; x < kSide; ++x) {
        if (x < 220 || std::abs(y - 200) > 80) QCOMPARE(*a.at(x, y), *n.at(x, y));
      }
    }
    QVERIFY(image::differenceOf(back.mask, back.alpha).empty());
    QVERIFY(back.clean.isNull());
    // A mark that the edge does not pass changes nothing.
    const auto elsewhere = test::must(
        matte::stretchTakenBack({now, {}, {}}, {then, {}, {}}, {{{10, 10}, {16, 10}, {24, 10}}, {}, {}}, test::here()));
    QCOMPARE(elsewhere.alpha.stamp(), now.stamp());
  }
  void theFirstLookIsNearTheCut() {
    truth::Description d;
    d.kind = truth::Kind::hair, d.ground = truth::Ground::paper, d.seed = 3;
    d.width = 1500, d.height = 1200;
    const truth::Matte c = truth::rendered(d);
    const auto picture =
        test::picture(d.width, d.height, 3, [&](int x, int y, int k) { return 255 * double(c.picture.at(x, y)[k]); });
    const auto selection = test::must(image::tiledFromRaster(truth::roughSelection(c.alpha, 10, 80, 5), image::PixelFormat::grey8,
                                                             test::memory(), test::here()));
    const auto seen = test::must(matte::quickAlpha(picture, selection, {}, test::here()));
    // Strands are haze in it: held against the truth as it looks from afar, in squares of 8 px.
    const auto truth = test::picture(d.width, d.height, 1, [&](int x, int y, int) { return 255 * double(*c.alpha.at(x, y)); });
    const base::Rect far = base::Rect::of(truth.level(3).size);
    const auto a = test::must(image::readFloat(seen, 3, far)), s = test::must(image::readFloat(selection, 3, far)),
               t = test::must(image::readFloat(truth, 3, far));
    double error = 0, rough = 0;
    for (std::size_t i = 0; i < a.samples().size(); ++i) {
      error += std::abs(double(a.samples()[i] - t.samples()[i]));
      rough += std::abs(double(s.samples()[i] - t.samples()[i]));
    }
    QVERIFY2(error < 0.6 * rough, qPrintable(QStringLiteral("%1 of %2").arg(error).arg(rough)));
  }
  // The background's colour leaves the edge under another development of the picture too.
  void cleanColoursOfAnotherPicture() {
    const image::TiledImage alpha = test::picture(kSide, kSide, 1, [](int x, int y, int) {
      return 255 * std::clamp((100 - std::hypot(x + 0.5 - 200, y + 0.5 - 200)) / 12 + 0.5, 0.0, 1.0);
    });
    const auto a = test::must(image::readFloat(alpha, 0, {0, 0, kSide, kSide}));
    const double subject[3] = {0.5, 0.2, 0.1}, ground[3] = {0.1, 0.5, 0.7};  // light
    const image::TiledImage source = test::picture(kSide, kSide, 3, [&](int x, int y, int c) {
      const double v = double(*a.at(x, y)), light = v * subject[c] + (1 - v) * ground[c];
      return 255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055);
    });
    const auto clean = test::must(matte::cleanColours(source, alpha, test::here(), {}));
    const auto c = test::must(image::read8(clean, 0, {0, 0, kSide, kSide})),
               raw = test::must(image::read8(source, 0, {0, 0, kSide, kSide}));
    const int inside[3] = {*raw.at(200, 200), raw.at(200, 200)[1], raw.at(200, 200)[2]};
    int worst = 0;
    for (int y = 0; y < kSide; ++y) {
      for (int x = 0; x < kSide; ++x) {
        const float v = *a.at(x, y);
        if (v < 0.2f || v > 0.95f) continue;
        for (int k = 0; k < 3; ++k) worst = std::max(worst, std::abs(int(c.at(x, y)[k]) - inside[k]));
      }
    }
    QVERIFY2(worst <= 8, qPrintable(QString::number(worst)));
  }
};

HSEAM_TEST(EarlierCutTest);
#include "earlier_cut_test.moc"
