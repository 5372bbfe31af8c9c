#include "core/deliver/parcel.h"

#include <tiffio.h>

#include <QFile>
#include <QTemporaryDir>
#include <filesystem>

#include "core/render/scenes.h"
#include "core/scene/edit.h"

using namespace hseam;

class ParcelTest : public QObject {
  Q_OBJECT

  // A disc with a soft rim, alone on a larger canvas.
  static scene::Scene alone() {
    scene::Scene s =
        test::sceneOf(test::picture(300, 200, 3, [](int x, int y, int c) { return 60 + (x * 7 + y * 13 + c * 31) % 120; }));
    const auto disc =
        test::picture(300, 200, 1, [](int x, int y, int) { return std::hypot(x + 0.5 - 120, y + 0.5 - 90) < 40 ? 255.0 : 0.0; });
    return test::must(scene::apply(s, scene::SetMask{{1}, disc}));
  }
  static deliver::Parcel named(const char* name) {
    for (const deliver::Parcel& p : deliver::usualParcels()) {
      if (p.name == name) return p;
    }
    qFatal("there is no such parcel");
  }

  // Read from the bytes, or by the format's own library.
  static double pixelsPerInch(const std::string& path, image::FileKind kind) {
    if (kind == image::FileKind::tiff) {
      TIFF* tiff = TIFFOpen(path.c_str(), "r");
      float x = 0;
      std::uint16_t unit = 0;
      TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &x);
      TIFFGetField(tiff, TIFFTAG_RESOLUTIONUNIT, &unit);
      TIFFClose(tiff);
      return unit == RESUNIT_INCH ? double(x) : 0;
    }
    QFile file(QString::fromStdString(path));
    if (!file.open(QIODevice::ReadOnly)) return 0;
    const QByteArray bytes = file.read(4096);
    const auto at = [&](qsizetype i) { return int(std::uint8_t(bytes[i])); };
    if (kind == image::FileKind::jpeg) {
      const qsizetype jfif = bytes.indexOf("JFIF");
      return jfif > 0 && at(jfif + 7) == 1 ? at(jfif + 8) * 256 + at(jfif + 9) : 0;
    }
    const qsizetype phys = bytes.indexOf("pHYs");
    if (phys < 0 || at(phys + 12) != 1) return 0;
    return ((at(phys + 4) << 24) + (at(phys + 5) << 16) + (at(phys + 6) << 8) + at(phys + 7)) * 0.0254;
  }

 private slots:
  void eachIsWhatItSays() {
    const QTemporaryDir dir;
    const std::string folder = dir.path().toStdString();
    const scene::Scene s = alone();
    const auto web = test::must(deliver::send(s, named("web"), folder, "disc", false, test::here(), {}));
    QCOMPARE(std::filesystem::path(web.path).filename().string(), std::string("disc-web.jpg"));
    QVERIFY(web.size == s.canvas && web.bytes == std::int64_t(std::filesystem::file_size(web.path)) && web.quality > 90);
    const auto cut = test::must(deliver::send(s, named("cut-out"), folder, "disc", false, test::here(), {}));
    // Trimmed to the disc, and what is there is the scene's.
    QCOMPARE(cut.size.width, 80);
    QCOMPARE(cut.size.height, 80);
    const auto read = test::must(image::readPicture(cut.path, test::memory(), test::here(), {}));
    const auto p = test::must(image::readFloat(read.pixels, 0, {0, 0, 80, 80}));
    QVERIFY(p.at(40, 40)[3] == 1.f && p.at(1, 1)[3] == 0.f);
    QVERIFY(std::abs(255 * double(p.at(40, 40)[0]) - (60 + (120 * 7 + 90 * 13) % 120)) <= 1);
    const auto print = test::must(deliver::send(s, named("print"), folder, "disc", false, test::here(), {}));
    QCOMPARE(test::must(image::readPicture(print.path, test::memory(), test::here(), {})).pixels.format(),
             image::PixelFormat::rgb16);
    const auto layers = test::must(deliver::send(s, named("layered"), folder, "disc", false, test::here(), {}));
    QVERIFY(std::filesystem::exists(layers.path) && layers.quality == 0);
  }
  void aWeightIsKeptFromBelow() {
    const QTemporaryDir dir;
    deliver::Parcel web = named("web");
    const std::int64_t limit = web.mostBytes = 8'000;
    const auto sent = test::must(deliver::send(alone(), web, dir.path().toStdString(), "light", false, test::here(), {}));
    QVERIFY2(sent.bytes <= web.mostBytes && sent.quality < 92, qPrintable(QString::number(sent.bytes)));
    web.options.quality = sent.quality + 1;
    web.mostBytes = 0;
    QVERIFY(test::must(deliver::send(alone(), web, dir.path().toStdString(), "next", false, test::here(), {})).bytes > limit);
  }
  void whatIsThereStaysUnlessItMayGo() {
    const QTemporaryDir dir;
    const std::string folder = dir.path().toStdString();
    const auto first = test::must(deliver::send(alone(), named("cut-out"), folder, "disc", false, test::here(), {}));
    const auto when = std::filesystem::last_write_time(first.path);
    QCOMPARE(deliver::send(alone(), named("cut-out"), folder, "disc", false, test::here(), {}).error().code,
             base::Code::conflict);
    QCOMPARE(std::filesystem::last_write_time(first.path), when);
    QVERIFY(deliver::send(alone(), named("cut-out"), folder, "disc", true, test::here(), {}).ok());
    scene::Scene empty;
    empty.canvas = {40, 40};
    QCOMPARE(deliver::send(empty, named("cut-out"), folder, "empty", false, test::here(), {}).error().code, base::Code::invalid);
    QVERIFY(!std::filesystem::exists(folder + "/empty-cut-out.png"));
    QCOMPARE(deliver::send(alone(), named("print"), folder + "/gone", "x", false, test::here(), {}).error().code,
             base::Code::unwritable);
  }
  void resolutionAndSourceTypeAreInTheFile_data() {
    QTest::addColumn<int>("kind");
    QTest::newRow("jpeg") << int(image::FileKind::jpeg);
    QTest::newRow("png") << int(image::FileKind::png);
    QTest::newRow("tiff") << int(image::FileKind::tiff);
  }
  void resolutionAndSourceTypeAreInTheFile() {
    QFETCH(int, kind);
    const QTemporaryDir dir;
    deliver::Parcel p;
    p.options.kind = image::FileKind(kind);
    p.options.pixelsPerInch = 240;
    p.options.about.sourceType = image::kCompositeOfCaptures;
    const auto sent = test::must(deliver::send(alone(), p, dir.path().toStdString(), "x", false, test::here(), {}));
    QCOMPARE(test::must(image::readMetadata(sent.path)).sourceType, std::string(image::kCompositeOfCaptures));
    QVERIFY2(std::abs(pixelsPerInch(sent.path, p.options.kind) - 240) < 0.02,
             qPrintable(QString::number(pixelsPerInch(sent.path, p.options.kind))));
  }
};

HSEAM_TEST(ParcelTest);
#include "parcel_test.moc"
