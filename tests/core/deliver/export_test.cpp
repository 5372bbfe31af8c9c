#include "core/deliver/export.h"

#include <lcms2.h>

#include <QFileInfo>
#include <QTemporaryDir>

#include "../render/scenes.h"
#include "core/image/lab.h"
#include "core/image/transfer.h"

using namespace hseam;
using namespace hseam::deliver;

class ExportTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  static image::Raster<float> read(const std::string& path) {
    const auto p = test::must(image::readPicture(path, test::memory(), test::here(), {}));
    return test::must(image::readFloat(p.pixels, 0, base::Rect::of(p.pixels.size())));
  }

 private slots:
  void wideFilesHoldTheRenderedValues() {
    const scene::Scene s = test::richScene(300, 200, scene::Mixing::linear);
    const auto truth = test::rendered(s);
    test::must(exportScene(s, at("a.tif"), {image::FileKind::tiff, 0, 92, true, false}, test::here(), {}));
    const auto got = read(at("a.tif"));
    QCOMPARE(got.channels(), 4);
    for (std::size_t i = 0; i < got.samples().size(); ++i)
      QVERIFY(std::abs(got.samples()[i] - truth.samples()[i]) <= 0.5f / 65535 + 1e-6f);
  }
  void eightBitsAreDitheredAroundTheTruth() {
    // A ramp far finer than 8 bit: single values are at most one step off, their local mean is right, and no step shows.
    scene::Scene s;
    s.canvas = {1024, 64};
    scene::Layer l = test::pictureLayer(
        1, test::must(image::tiledFromRows({1024, 64}, image::PixelFormat::rgb16, test::memory(), test::here(), {},
                                           [](int, int count, std::byte* rows) -> base::Status {
                                             auto* px = reinterpret_cast<std::uint16_t*>(rows);
                                             for (int i = 0; i < count * 1024; ++i) {
                                               for (int c = 0; c < 3; ++c)
                                                 px[i * 3 + c] = std::uint16_t(25700 + i % 1024);  // 100 .. 104
                                             }
                                             return {};
                                           })));
    s.layers = {test::ref(l)};
    test::must(exportScene(s, at("ramp.png"), {}, test::here(), {}));
    const auto got = read(at("ramp.png"));
    double worstMean = 0;
    for (int x = 32; x < 1024 - 32; x += 8) {
      double mean = 0, wanted = 0;
      for (int y = 0; y < 64; ++y) {
        for (int dx = -16; dx < 16; ++dx) {
          const double v = double(got.at(x + dx, y)[1]) * 255, w = (25700 + x + dx) / 257.0;
          QVERIFY(std::abs(v - w) < 1.001);
          mean += v / 2048, wanted += w / 2048;
        }
      }
      worstMean = std::max(worstMean, std::abs(mean - wanted));
    }
    QVERIFY2(worstMean < 0.04, qPrintable(QString::number(worstMean)));  // plain rounding is off by up to 0.5
  }
  void anotherProfileHoldsTheSameColours() {
    // A wider space with a gamma of its own, as a monitor or a printer's proof may ask for.
    const std::string icc = dir_.filePath(QStringLiteral("wide.icc")).toStdString();
    {
      const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
      cmsCIExyY white;
      cmsWhitePointFromTemp(&white, 6504);
      cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.2);
      cmsToneCurve* curves[3] = {gamma, gamma, gamma};
      cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
      QVERIFY(cmsSaveProfileToFile(profile, icc.c_str()));
      cmsCloseProfile(profile);
      cmsFreeToneCurve(gamma);
    }
    scene::Scene s;
    s.canvas = {64, 48};
    s.layers = {test::ref(test::pictureLayer(
        1, test::picture(64, 48, 3, [](int x, int y, int c) { return c == 0 ? 4.0 * x : (c == 1 ? 5.0 * y : 255 - 2.0 * x); })))};
    for (const auto& [name, kind] : {std::pair("p.tif", image::FileKind::tiff), {"p.png", image::FileKind::png}}) {
      const std::string path = dir_.filePath(QLatin1String(name)).toStdString();
      ExportOptions o{kind};
      o.keepAlpha = false;
      o.profile = icc;
      test::must(exportScene(s, path, o, test::here(), {}));
      const auto back = test::must(image::readPicture(path, test::memory(), test::here(), {}));
      const auto got = test::must(image::readFloat(back.pixels, 0, base::Rect::of(s.canvas)));
      const auto meant = test::rendered(s);
      double worst = 0;
      for (int y = 0; y < 48; ++y) {
        for (int x = 0; x < 64; ++x) {
          const auto lab = [](const float* p) { return image::labFromEncoded({double(p[0]), double(p[1]), double(p[2])}); };
          worst = std::max(worst, image::deltaE2000(lab(got.at(x, y)), lab(meant.at(x, y))));
        }
      }
      QVERIFY2(worst < (kind == image::FileKind::tiff ? 0.5 : 1.2), qPrintable(QString::number(worst)));
    }
    ExportOptions broken{image::FileKind::png};
    broken.profile = dir_.filePath(QStringLiteral("p.png")).toStdString();
    const auto refused = exportScene(s, dir_.filePath(QStringLiteral("q.png")).toStdString(), broken, test::here(), {});
    QVERIFY(!refused.ok() && refused.error().code == base::Code::corrupt && refused.error().where == broken.profile);
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("q.png"))));
  }
  void exactValuesAreNotTouchedByDither() {
    scene::Scene s;
    s.canvas = {64, 64};
    s.layers = {
        test::ref(test::pictureLayer(1, test::picture(64, 64, 3, [](int x, int y, int c) { return (x * 4 + y + c) % 256; })))};
    test::must(exportScene(s, at("exact.png"), {}, test::here(), {}));
    const auto got = read(at("exact.png"));
    for (int y = 0; y < 64; ++y) {
      for (int x = 0; x < 64; ++x) QCOMPARE(int(std::lround(got.at(x, y)[2] * 255)), (x * 4 + y + 2) % 256);
    }
  }
  void sameSceneSameBytes() {
    const scene::Scene s = test::richScene(300, 200, scene::Mixing::linear);
    const auto pool = base::makePool(3);
    for (const auto kind : {image::FileKind::png, image::FileKind::jpeg, image::FileKind::tiff}) {
      const auto bytes = [&](base::Executor& e, const char* name) {
        test::must(exportScene(s, at(name), {kind, 177, 80, false, false}, e, {}));
        QFile f(dir_.filePath(QLatin1String(name)));
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
      };
      const char* names[] = {"x.png", "x.jpg", "x.tif"};
      QCOMPARE(bytes(test::here(), names[int(kind)]), bytes(*pool, names[int(kind)]));
    }
  }
  void theLongSideIsWhatWasAsked() {
    QCOMPARE(exportSize({3000, 2000}, 1500), base::Size({1500, 1000}));
    QCOMPARE(exportSize({2000, 3000}, 1500), base::Size({1000, 1500}));
    QCOMPARE(exportSize({3000, 2000}, 0), base::Size({3000, 2000}));
    QCOMPARE(exportSize({3000, 2000}, 9000), base::Size({3000, 2000}));
    QCOMPARE(exportSize({3000, 1}, 100), base::Size({100, 1}));
  }
  void reducingKeepsTheLightOfFinePatterns() {
    // Alternate black and white lines: half the light, which is code 188, not 128.
    scene::Scene s;
    s.canvas = {400, 400};
    s.layers = {test::ref(test::pictureLayer(1, test::picture(400, 400, 3, [](int, int y, int) { return y % 2 ? 255 : 0; })))};
    test::must(exportScene(s, at("lines.png"), {image::FileKind::png, 100, 92, true, false}, test::here(), {}));
    const auto got = read(at("lines.png"));
    QCOMPARE(got.width(), 100);
    for (int y = 5; y < 95; ++y)
      QVERIFY2(std::abs(double(got.at(50, y)[0]) - image::encodedFromLinear(0.5)) < 0.012,
               qPrintable(QString::number(double(got.at(50, y)[0]))));
  }
  void emptinessBecomesWhiteOnlyWhereAsked() {
    scene::Scene s;
    s.canvas = {40, 40};
    s.layers = {test::ref(test::pictureLayer(1, test::picture(20, 40, 3, [](int, int, int) { return 30; })))};
    test::must(exportScene(s, at("alpha.png"), {}, test::here(), {}));
    QCOMPARE(read(at("alpha.png")).at(30, 20)[3], 0.f);
    test::must(exportScene(s, at("white.jpg"), {image::FileKind::jpeg, 0, 95, true, false}, test::here(), {}));
    QVERIFY(read(at("white.jpg")).at(34, 20)[0] > 0.97f);
  }
  void aWeightThatCannotBeToldIsAnError() {
    const QByteArray before = qgetenv("TMPDIR");
    qputenv("TMPDIR", dir_.filePath(QStringLiteral("no such folder")).toUtf8());
    ExportOptions o;
    const auto weight = exportWeight(test::sceneOf(test::colours(40, 30, 1)), o, test::here(), {});
    before.isNull() ? qunsetenv("TMPDIR") : qputenv("TMPDIR", before);
    QVERIFY(!weight.ok());
    // And leaves nothing behind where it can.
    qputenv("TMPDIR", dir_.path().toUtf8());
    QVERIFY(exportWeight(test::sceneOf(test::colours(40, 30, 1)), o, test::here(), {}).ok());
    before.isNull() ? qunsetenv("TMPDIR") : qputenv("TMPDIR", before);
    QVERIFY(QDir(dir_.path()).entryList({QStringLiteral("hseam-weight*")}, QDir::AllEntries).isEmpty());
  }
  void weightIsTheFilesOwn() {
    const scene::Scene s = test::richScene(300, 200, scene::Mixing::linear);
    for (const int quality : {30, 95}) {
      const ExportOptions o{image::FileKind::jpeg, 0, quality, true, false};
      test::must(exportScene(s, at("w.jpg"), o, test::here(), {}));
      QCOMPARE(test::must(exportWeight(s, o, test::here(), {})),
               std::int64_t(QFileInfo(dir_.filePath(QStringLiteral("w.jpg"))).size()));
    }
  }
  void stoppingOrABadPlaceLeavesNothing() {
    const scene::Scene s = test::richScene(300, 200, scene::Mixing::linear);
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(exportScene(s, at("stopped.png"), {}, test::here(), base::Progress(stop.get_token())).error().code,
             base::Code::cancelled);
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("stopped.png"))));
    QCOMPARE(exportScene(s, "/nowhere/at/all.png", {}, test::here(), {}).error().code, base::Code::unwritable);
  }
};
HSEAM_TEST(ExportTest);
#include "export_test.moc"
