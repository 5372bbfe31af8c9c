#include "core/tasks/ready.h"

#include <cmath>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/render/scenes.h"

using namespace hseam;

// A picture of many colours, changed in a known way and brought back.
class ReadyTest : public QObject {
  Q_OBJECT

  // Fields of many colours whose mean is grey, with edges as a lens leaves them, and grain.
  static image::TiledImage fields(double blurPx, double grain) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> tone(0.15, 0.75);
    std::array<std::array<std::array<double, 3>, 12>, 12> colours{};
    for (auto& row : colours) {
      for (auto& c : row) {
        const double l = tone(random);
        for (double& v : c) v = std::clamp(l + 0.3 * (tone(random) - 0.45), 0.02, 0.98);
      }
    }
    std::normal_distribution<double> noise(0, grain);
    return test::picture(480, 480, 3, [&](int x, int y, int c) {
      // The step's own integral across the fields' edges.
      double sum = 0;
      const int cx = x / 40, cy = y / 40;
      for (int v = std::max(0, cy - 1); v <= std::min(11, cy + 1); ++v) {
        for (int u = std::max(0, cx - 1); u <= std::min(11, cx + 1); ++u) {
          const auto share = [&](double at, int k, int last) {
            const double s = std::max(0.05, blurPx) * std::sqrt(2.0);
            const double from = k == 0 ? 1 : 0.5 * (1 + std::erf((at - 40 * k) / s)),
                         to = k == last ? 0 : 0.5 * (1 + std::erf((at - 40 * (k + 1)) / s));
            return from - to;
          };
          sum += share(x + 0.5, u, 11) * share(y + 0.5, v, 11) *
                 image::linearFromEncoded(colours[std::size_t(v)][std::size_t(u)][std::size_t(c)]);
        }
      }
      return 255 * std::clamp(image::encodedFromLinear(sum) + noise(random), 0.0, 1.0);
    });
  }
  static scene::Scene with(const image::TiledImage& picture) {
    scene::Scene s;
    s.canvas = picture.size();
    return test::must(scene::apply(s, scene::AddLayer{test::pictureLayer(1, picture), {}, -1}));
  }
  static scene::Layer confined() {
    scene::Layer l = test::adjustmentLayer(7, scene::Exposure{0.1});
    l.clip = true;
    return l;
  }
  static scene::Scene ready(const scene::Scene& s, const tasks::Readying& r) {
    return test::must(scene::apply(s, test::must(tasks::readied(s, {1}, r))));
  }
  static tasks::ReadyNumbers numbers(const scene::Scene& s, bool withAdjustments) {
    return test::must(tasks::readyNumbers(s, {1}, withAdjustments, test::here(), {}));
  }

 private slots:
  void eachPartIsALayerConfinedToThePictureAndIsReadBack() {
    scene::Scene s = with(fields(0.5, 0));
    s = test::must(scene::apply(s, scene::AddLayer{confined(), {}, -1}));
    tasks::Readying r;
    r.mired = 30, r.contrast = 0.5;
    s = ready(s, r);
    QCOMPARE(s.layers.size(), std::size_t(4));
    QVERIFY(s.layers[1]->name == "ready: warmth" && s.layers[2]->name == "ready: contrast" && s.layers[3]->id.value == 7);
    QVERIFY(s.layers[1]->clip && s.layers[2]->clip);
    QVERIFY(tasks::readyingOf(s, {1}) == r);
    // More comes where it acts, what is taken back goes, the rest is changed in place.
    const scene::LayerId warmth = s.layers[1]->id;
    r = {};
    r.stops = 0.5, r.mired = -20, r.ends.black = 0.1, r.highlights = 0.3, r.local = 0.2, r.vivid = -0.1, r.denoise = 0.02,
    r.sharpen = 1, r.sharpenPx = 1.5;
    s = ready(s, r);
    QVERIFY(tasks::readyingOf(s, {1}) == r);
    QStringList names;
    for (const auto& l : s.layers) names << QString::fromStdString(l->name).section(QLatin1Char(' '), 1);
    QCOMPARE(names.mid(1, 8),
             QStringList({QStringLiteral("exposure"), QStringLiteral("warmth"), QStringLiteral("highlights and shadows"),
                          QStringLiteral("ends of the tones"), QStringLiteral("local contrast"), QStringLiteral("saturation"),
                          QStringLiteral("noise reduction"), QStringLiteral("sharpening")}));
    QVERIFY(s.layers[2]->id == warmth && s.layers.back()->id.value == 7);
    s = ready(s, {});
    QCOMPARE(s.layers.size(), std::size_t(2));
    QVERIFY(test::must(tasks::readied(s, {1}, {})).edits.empty());
  }
  void aClickedGreyBecomesGrey_data() {
    QTest::addColumn<double>("mired");
    QTest::addColumn<double>("tint");
    QTest::newRow("lamp light") << 90.0 << 0.05;
    QTest::newRow("shade") << -60.0 << -0.1;
    QTest::newRow("a green tube") << 10.0 << -0.4;
  }
  void aClickedGreyBecomesGrey() {
    QFETCH(double, mired);
    QFETCH(double, tint);
    // A grey under that light, as the adjustment itself has it.
    const scene::AdjustmentFunction under{
        scene::with(scene::with(scene::parametric(scene::AdjustmentId::warmth), "mired", mired), "tint", tint)};
    const auto shown = under({0.5, 0.5, 0.5});
    const tasks::White w = tasks::whiteFor(shown);
    const scene::AdjustmentFunction back{
        scene::with(scene::with(scene::parametric(scene::AdjustmentId::warmth), "mired", w.mired), "tint", w.tint)};
    const auto grey = back(shown);
    QVERIFY(std::abs(grey[0] - grey[1]) < 0.002 && std::abs(grey[2] - grey[1]) < 0.002);
  }
  void anotherExposureAndWarmthAreMadeAlike() {
    const auto picture = fields(0.5, 0);
    const scene::Scene like = with(picture);
    tasks::Readying other;
    other.stops = -0.8, other.mired = 45;
    const scene::Scene changed = ready(like, other);
    // As a picture of its own.
    const auto pixels = test::rendered(changed);
    const scene::Scene own =
        with(test::picture(480, 480, 3, [&](int x, int y, int c) { return 255.0 * double(pixels.at(x, y)[c]); }));
    const tasks::Readying r = tasks::alike({}, numbers(own, false), numbers(like, false));
    QVERIFY2(std::abs(r.stops - 0.8) < 0.06, qPrintable(QString::number(r.stops)));
    QVERIFY2(std::abs(r.mired + 45) < 6, qPrintable(QString::number(r.mired)));
    const auto made = test::rendered(ready(own, r)), truth = test::rendered(like);
    double sum = 0;
    for (std::size_t i = 0; i < truth.pixels(); i += 37) {
      std::array<double, 3> a{}, b{};
      for (std::size_t c = 0; c < 3; ++c) a[c] = double(made.samples()[4 * i + c]), b[c] = double(truth.samples()[4 * i + c]);
      sum += image::deltaE2000(image::labFromEncoded(a), image::labFromEncoded(b)) * 37 / double(truth.pixels());
    }
    QVERIFY2(sum < 1.5, qPrintable(QString::number(sum)));
  }
  void detailStartsFromWhatIsMeasuredAndTellsWhatRemains() {
    const scene::Scene s = with(fields(1.4, 0.012));
    const auto before = numbers(s, false);
    QVERIFY(before.blurPx.available && std::abs(before.blurPx.value - 1.4) < 0.25);
    // Of luma: the channels' grain is independent.
    QVERIFY2(before.grain.available && std::abs(before.grain.value - 0.67 * 0.012) < 0.0008,
             qPrintable(QString::number(before.grain.value)));
    const tasks::Readying r = tasks::startingFrom({}, before);
    QVERIFY(r.sharpen > 0 && std::abs(r.sharpenPx - before.blurPx.value) < 0.01 && r.denoise > 0.01);
    const auto after = numbers(ready(s, r), true);
    QVERIFY2(after.blurPx.value < 0.85 * before.blurPx.value, qPrintable(QString::number(after.blurPx.value)));
    QVERIFY2(after.grain.value < 0.8 * before.grain.value, qPrintable(QString::number(after.grain.value)));
    // What is crisp and clean is left alone.
    const tasks::Readying none = tasks::startingFrom({}, numbers(with(fields(0.3, 0)), false));
    QVERIFY(none.sharpen == 0 && none.denoise == 0);
  }
  void whatIsCutOffIsCounted() {
    const scene::Scene s = with(fields(0.5, 0));
    const auto shares = [&](const tasks::Readying& r) {
      return test::must(tasks::cutOffShares(test::must(tasks::pictureByItself(ready(s, r), {1}, true)), test::here()));
    };
    QVERIFY(shares({}).white < 0.001 && shares({}).black < 0.001);
    tasks::Readying r;
    r.ends.white = 0.5, r.ends.black = 0.25;
    QVERIFY(shares(r).white > 0.1 && shares(r).black > 0.02);
  }
  void onlyPicturesAreReadied() {
    scene::Scene s = with(fields(0.5, 0));
    s = test::must(scene::apply(s, scene::AddLayer{confined(), {}, -1}));
    QCOMPARE(tasks::readied(s, {7}, {}).error().code, base::Code::invalid);
    QCOMPARE(tasks::readied(s, {9}, {}).error().code, base::Code::notFound);
  }
};

HSEAM_TEST(ReadyTest);
#include "ready_test.moc"
