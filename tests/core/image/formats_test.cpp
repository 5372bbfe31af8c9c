#include <QFile>
#include <QTemporaryDir>
#include <cmath>
#include <exiv2/exiv2.hpp>

#include "core/image/lab.h"
#include "core/image/picture_file.h"
#include "core/image/preview.h"
#include "core/image/transfer.h"
#include "inks.h"
#include "pictures.h"
#include "raw_file.h"
#include "written_files.h"

using namespace hseam;
using namespace hseam::image;

class FormatsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  static base::Result<Picture> readFile(const std::string& path) { return readPicture(path, test::memory(), test::here(), {}); }
  static std::array<double, 3> pixel(const Picture& p, int x, int y) {
    const auto r = test::must(readFloat(p.pixels, 0, {x, y, 1, 1}));
    return {double(r.at(0, 0)[0]), double(r.at(0, 0)[1]), double(r.at(0, 0)[2])};
  }
  static int code(const Picture& p, int x, int y, int channel) {
    return int(test::must(read8(p.pixels, 0, {x, y, 1, 1})).at(0, 0)[channel]);
  }

 private slots:
  void eightBitPicturesBecomeLightToo() {
    const auto narrow = test::picture(30, 20, 4, [](int x, int y, int c) { return c == 3 ? 60 + y * 9 : 40 + x * 6 + c * 10; });
    test::must(writeTiled(at("narrow.exr"), narrow));
    bool half = false;
    const std::vector<float> light = test::readExrFile(at("narrow.exr"), half);
    for (const int at : {0, 17 * 4, (19 * 30 + 29) * 4}) {
      const int x = at / 4 % 30, y = at / 4 / 30;
      const double alpha = (60 + y * 9) / 255.0, value = linearFromEncoded((40 + x * 6 + 10) / 255.0) * alpha;
      QVERIFY(std::abs(double(light[std::size_t(at) + 3]) - alpha) < 0.001);
      QVERIFY2(std::abs(double(light[std::size_t(at) + 1]) - value) < 0.001,
               qPrintable(QString::number(light[std::size_t(at) + 1])));
    }
  }
  void floatTiffIsLight() {
    // 0.2140 of white light is half of white encoded (IEC 61966-2-1).
    std::vector<float> light;
    for (int i = 0; i < 200; ++i) light.insert(light.end(), {0.21404f, float(i) / 199, i == 7 ? 3.f : 0.f, i < 100 ? 1.f : 0.5f});
    for (const int tile : {0, 16}) {
      test::TiffKind kind{20, 10, 4, 32, PHOTOMETRIC_RGB, SAMPLEFORMAT_IEEEFP, tile};
      kind.extra = EXTRASAMPLE_UNASSALPHA;
      test::writeTiffFile(at("light.tif"), kind, test::bytesOf(light));
      const Picture p = test::must(readFile(at("light.tif")));
      QVERIFY(isWide(p.pixels.format()));
      const auto r = test::must(readFloat(p.pixels, 0, {0, 0, 20, 10}));
      for (const int i : {0, 50, 120, 199}) {
        const float* px = r.at(i % 20, i / 20);
        QVERIFY2(std::abs(double(px[0]) - 0.5) < 2e-4, qPrintable(QString::number(px[0])));
        QVERIFY(std::abs(double(px[1]) - encodedFromLinear(double(i) / 199)) < 2e-4);
        QVERIFY(std::abs(px[3] - (i < 100 ? 1.f : 0.5f)) < 1e-4f);
      }
      QVERIFY(p.warnings.size() == 1 && p.warnings[0].find("brighter than white") != std::string::npos);
    }
  }
  void openExrHoldsLight() {
    const auto wide = test::must(tiledFromRows({70, 40}, PixelFormat::rgba16, test::memory(), test::here(), {},
                                               [](int, int count, std::byte* rows) -> base::Status {
                                                 auto* px = reinterpret_cast<std::uint16_t*>(rows);
                                                 for (int i = 0; i < count * 70; ++i) {
                                                   for (int c = 0; c < 3; ++c)
                                                     px[i * 4 + c] = std::uint16_t((i * 23 + c * 9000) % 65536);
                                                   px[i * 4 + 3] = std::uint16_t(i % 70 < 35 ? 65535 : 32768);
                                                 }
                                                 return {};
                                               }));
    test::must(writeTiled(at("a.exr"), wide));
    // Light, alpha multiplied in.
    bool half = false;
    const std::vector<float> light = test::readExrFile(at("a.exr"), half);
    QVERIFY(half);
    const double value = (60 * 23 + 9000) / 65535.0;
    QVERIFY(std::abs(double(light[60 * 4 + 1]) - linearFromEncoded(value) * (32768 / 65535.0)) < 1e-4);
    // And back: half floats keep eleven bits of light.
    const Picture p = test::must(readFile(at("a.exr")));
    QVERIFY(p.warnings.empty());
    const auto got = test::must(readFloat(p.pixels, 0, {0, 0, 70, 40})), meant = test::must(readFloat(wide, 0, {0, 0, 70, 40}));
    for (std::size_t i = 0; i < got.samples().size(); ++i) QVERIFY(std::abs(got.samples()[i] - meant.samples()[i]) < 8e-4f);
  }
  void lightAboveWhiteIsToldAndCut() {
    std::vector<float> samples(20 * 10 * 3, 0.2f);
    for (std::size_t i = 0; i < 60; ++i) samples[i] = 4.f;
    samples[100] = std::numeric_limits<float>::quiet_NaN();
    test::writeExrFile(at("bright.exr"), 20, 10, 3, samples);
    const Picture p = test::must(readFile(at("bright.exr")));
    QCOMPARE(p.warnings.size(), std::size_t(1));
    QVERIFY(p.warnings[0].find("10.00 %") != std::string::npos &&
            p.warnings[0].find("1 values are not numbers") != std::string::npos);
    QCOMPARE(pixel(p, 3, 0)[0], 1.0);
    QVERIFY(std::abs(pixel(p, 3, 8)[0] - encodedFromLinear(0.2)) < 1e-4);
  }
  void webpWithoutLossKeepsEveryBit() {
    for (const int channels : {3, 4}) {
      const auto r = test::raster(133, 71, channels,
                                  [](int x, int y, int c) { return c == 3 ? (x * 2) % 256 : (x * 5 + y * 3 + c * 60) % 256; });
      test::must(writeTiled(at("a.webp"), test::picture(r), 100));
      const Picture p = test::must(readFile(at("a.webp")));
      QVERIFY(test::must(read8(p.pixels, 0, {0, 0, 133, 71})).samples() == r.samples());
    }
  }
  void webpKeepsItsProfile() {
    // The file says that its numbers are light (a linear sRGB profile): 0.5 must come out as its encoded value.
    test::must(writeTiled(at("flat.webp"), test::picture(32, 32, 3, [](int, int, int) { return 128; }), 100));
    QFile f(dir_.filePath(QStringLiteral("flat.webp")));
    QVERIFY(f.open(QIODevice::ReadWrite));
    QByteArray bytes = f.readAll();
    const QByteArray linear = inks::linearSrgbProfile();
    const qsizetype chunk = bytes.indexOf("ICCP");
    QVERIFY(chunk > 0);
    const auto length = qsizetype(std::uint8_t(bytes[chunk + 4]) | std::uint8_t(bytes[chunk + 5]) << 8);
    QByteArray head("ICCP");
    for (int i = 0; i < 4; ++i) head += char(std::uint32_t(linear.size()) >> (8 * i) & 255);
    bytes.replace(chunk, 8 + length + length % 2, head + linear + QByteArray(linear.size() % 2, '\0'));
    const auto riff = std::uint32_t(bytes.size() - 8);
    for (int i = 0; i < 4; ++i) bytes[4 + i] = char(riff >> (8 * i) & 255);
    f.resize(0);
    f.seek(0);
    f.write(bytes);
    f.close();
    const Picture p = test::must(readFile(at("flat.webp")));
    QVERIFY(std::abs(pixel(p, 5, 5)[1] - encodedFromLinear(128 / 255.0)) < 0.002);
  }
  void inksGoThroughTheirProfile() {
    // Four flat fields; the truth is the profile's own formula, in L*a*b*.
    const std::vector<std::array<int, 4>> fields{{0, 0, 0, 0}, {200, 30, 10, 20}, {10, 180, 160, 0}, {40, 40, 40, 150}};
    for (const auto& inksOf : fields) {
      inks::writeJpeg(at("inks.jpg"), 48, 32, inksOf, true);
      const Picture p = test::must(readFile(at("inks.jpg")));
      QVERIFY(p.warnings.empty());
      const Lab got = labFromEncoded(pixel(p, 20, 12)), meant = inks::meant(inksOf);
      QVERIFY2(deltaE2000(got, meant) < 2, qPrintable(QString::number(deltaE2000(got, meant))));
    }
    inks::writeJpeg(at("inks.jpg"), 48, 32, {200, 0, 0, 0}, false);
    const Picture plain = test::must(readFile(at("inks.jpg")));
    QCOMPARE(plain.warnings.size(), std::size_t(1));
    QVERIFY(pixel(plain, 20, 12)[0] < 0.3 && pixel(plain, 20, 12)[2] > 0.9);
  }
  void cameraRawIsRead() {
    test::writeRaw(at("grey.dng"), 64, 48, [](int, int) { return 8000; });
    const Picture p = test::must(readFile(at("grey.dng")));
    QVERIFY(isWide(p.pixels.format()));
    const base::Size s = p.pixels.size();
    QVERIFY(s.width >= 56 && s.width <= 64 && s.height >= 40 && s.height <= 48);
    const auto a = pixel(p, 20, 20), b = pixel(p, 37, 29);
    for (std::size_t c = 0; c < 3; ++c) QVERIFY(std::abs(a[c] - b[c]) < 0.01 && a[c] > 0.05 && a[c] < 0.95);
  }
  void greyWithAlphaInSixteenBits() {
    std::vector<std::uint8_t> rows;
    for (int i = 0; i < 30 * 20; ++i) {
      for (const int v : {i * 100, 65535 - i * 90}) rows.push_back(std::uint8_t(v >> 8)), rows.push_back(std::uint8_t(v & 255));
    }
    test::writePngFile(at("ga.png"), 30, 20, 16, PNG_COLOR_TYPE_GRAY_ALPHA, false, rows);
    const Picture p = test::must(readFile(at("ga.png")));
    QCOMPARE(p.pixels.format(), PixelFormat::rgba16);
    const auto r = test::must(readFloat(p.pixels, 0, {7, 9, 1, 1}));
    const int i = 9 * 30 + 7;
    for (int c = 0; c < 3; ++c) QCOMPARE(r.at(0, 0)[c], float(i * 100) / 65535.f);
    QCOMPARE(r.at(0, 0)[3], float(65535 - i * 90) / 65535.f);
  }
  void oneBitPictures() {
    std::vector<std::uint8_t> packed(5 * 16);
    for (int i = 0; i < 40 * 16; ++i) {
      if (i % 40 % 3 == 0) packed[std::size_t(i / 8)] |= std::uint8_t(0x80 >> i % 8);
    }
    test::writeTiffFile(at("bits.tif"), {40, 16, 1, 1, PHOTOMETRIC_MINISBLACK}, packed);
    test::writePngFile(at("bits.png"), 40, 16, 1, PNG_COLOR_TYPE_GRAY, false, packed);
    for (const char* name : {"bits.tif", "bits.png"}) {
      const Picture p = test::must(readFile(at(name)));
      for (const int x : {0, 1, 2, 3, 30, 31}) QCOMPARE(pixel(p, x, 5)[1], x % 3 == 0 ? 1.0 : 0.0);
    }
  }
  void palettes() {
    // Four colours, the last of them half transparent where the format can tell.
    std::vector<std::uint8_t> indices;
    for (int i = 0; i < 20 * 8; ++i) indices.push_back(std::uint8_t(i % 4));
    test::writePngFile(at("palette.png"), 20, 8, 8, PNG_COLOR_TYPE_PALETTE, true, indices,
                       {{10, 20, 30}, {200, 0, 0}, {0, 0, 255}, {90, 91, 92}}, {255, 255, 255, 128});
    const Picture png = test::must(readFile(at("palette.png")));
    QCOMPARE(png.pixels.format(), PixelFormat::rgba8);
    QCOMPARE(code(png, 1, 3, 0), 200);
    QCOMPARE(code(png, 7, 3, 2), 92);
    QCOMPARE(test::must(readFloat(png.pixels, 0, {7, 3, 1, 1})).at(0, 0)[3], 128 / 255.f);
    std::vector<std::uint16_t> palette(3 * 256);
    palette[1] = 200 * 257, palette[256 + 2] = 100 * 257, palette[512 + 3] = 50 * 257;
    test::writeTiffFile(at("palette.tif"), {20, 8, 1, 8, PHOTOMETRIC_PALETTE}, indices, palette);
    const Picture tif = test::must(readFile(at("palette.tif")));
    QCOMPARE(code(tif, 1, 3, 0), 200);
    QCOMPARE(code(tif, 6, 3, 1), 100);
    QCOMPARE(code(tif, 7, 3, 2), 50);
  }
  void everyLayoutOfTiff_data() {
    QTest::addColumn<int>("bits");
    QTest::addColumn<int>("tile");
    QTest::addColumn<bool>("planes");
    QTest::addColumn<QString>("mode");
    for (const int bits : {8, 16}) {
      for (const int tile : {0, 16}) {
        for (const bool planes : {false, true}) {
          for (const char* mode : {"w", "wb8"})
            QTest::addRow("%d bit, tile %d, planes %d, %s", bits, tile, int(planes), mode)
                << bits << tile << planes << QString::fromLatin1(mode);
        }
      }
    }
  }
  void everyLayoutOfTiff() {
    QFETCH(int, bits);
    QFETCH(int, tile);
    QFETCH(bool, planes);
    QFETCH(QString, mode);
    const auto value = [](int x, int y, int c) { return (x * 5 + y * 11 + c * 60) % 256; };
    std::vector<std::uint8_t> bytes;
    std::vector<std::uint16_t> wide;
    for (int i = 0; i < 37 * 25 * 4; ++i) {
      const int v = value(i / 4 % 37, i / 4 / 37, i % 4);
      bytes.push_back(std::uint8_t(v));
      wide.push_back(std::uint16_t(v * 257));
    }
    const QByteArray m = mode.toLatin1();
    const test::TiffKind kind{
        37,           25, 4, bits, PHOTOMETRIC_RGB, SAMPLEFORMAT_UINT, tile, planes, EXTRASAMPLE_UNASSALPHA, COMPRESSION_NONE,
        m.constData()};
    test::writeTiffFile(at("layout.tif"), kind, bits == 8 ? bytes : test::bytesOf(wide));
    const Picture p = test::must(readFile(at("layout.tif")));
    QCOMPARE(p.pixels.format(), bits == 8 ? PixelFormat::rgba8 : PixelFormat::rgba16);
    const auto r = test::must(readFloat(p.pixels, 0, {0, 0, 37, 25}));
    for (int i = 0; i < 37 * 25 * 4; ++i)
      QCOMPARE(r.samples()[std::size_t(i)], float(value(i / 4 % 37, i / 4 / 37, i % 4)) / 255.f);
  }
  void alphaMultipliedInIsTakenOut() {
    std::vector<std::uint8_t> samples;
    for (int i = 0; i < 12 * 6; ++i) samples.insert(samples.end(), {100, 50, 0, 128});
    test::TiffKind kind{12, 6, 4, 8};
    kind.extra = EXTRASAMPLE_ASSOCALPHA;
    test::writeTiffFile(at("premultiplied.tif"), kind, samples);
    const auto px = test::must(read8(test::must(readFile(at("premultiplied.tif"))).pixels, 0, {3, 3, 1, 1}));
    QCOMPARE(int(px.at(0, 0)[0]), 199);
    QCOMPARE(int(px.at(0, 0)[1]), 100);
    QCOMPARE(int(px.at(0, 0)[3]), 128);
  }
  void tiffThatIsWhiteAtNothingAndTiffOfJpeg() {
    test::writeTiffFile(at("inverted.tif"), {20, 9, 1, 8, PHOTOMETRIC_MINISWHITE}, std::vector<std::uint8_t>(180, 55));
    QCOMPARE(code(test::must(readFile(at("inverted.tif"))), 4, 4, 0), 200);
    std::vector<std::uint8_t> flat;
    for (int i = 0; i < 48 * 32; ++i) flat.insert(flat.end(), {180, 90, 40});
    test::TiffKind kind{48, 32, 3, 8, PHOTOMETRIC_YCBCR};
    kind.compression = COMPRESSION_JPEG;
    test::writeTiffFile(at("jpeg.tif"), kind, flat);
    const auto px = pixel(test::must(readFile(at("jpeg.tif"))), 20, 20);
    QVERIFY(std::abs(px[0] * 255 - 180) < 4 && std::abs(px[1] * 255 - 90) < 4 && std::abs(px[2] * 255 - 40) < 4);
  }
  void halfOfAPngIsShown() {
    std::vector<std::uint8_t> rows;
    test::Noise random{5};
    for (int i = 0; i < 300 * 200 * 3; ++i) rows.push_back(std::uint8_t(random.below(256)));
    test::writePngFile(at("whole.png"), 300, 200, 8, PNG_COLOR_TYPE_RGB, false, rows);
    QFile f(dir_.filePath(QStringLiteral("whole.png")));
    QVERIFY(f.resize(f.size() / 2));
    const Picture p = test::must(readFile(at("whole.png")));
    QVERIFY(p.warnings.size() == 1 && p.warnings[0].find("missing parts") != std::string::npos);
    QCOMPARE(code(p, 17, 40, 1), int(rows[(40 * 300 + 17) * 3 + 1]));
    QCOMPARE(pixel(p, 17, 190)[1], 0.0);
  }
  void previewsAreMeansOfLight() {
    // Lines of black and white, one pixel each: half of white light, whatever way a file is made smaller.
    test::must(writeTiled(at("lines.png"), test::picture(640, 480, 3, [](int, int y, int) { return y % 2 ? 255 : 0; })));
    const Raster<std::uint8_t> lines = test::must(preview(at("lines.png"), 160));
    QCOMPARE(lines.size(), (base::Size{160, 120}));
    QVERIFY(std::abs(int(*lines.at(80, 60)) - 188) <= 1);
    // A turned and progressive JPEG, its left half dark; its longer side is kept.
    const std::string turned("Exif\0\0II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x06\0\0\0\0\0\0\0", 32);
    test::writeJpegFile(at("turned.jpg"), 1000, 600, true, turned, [](int x, int, int) { return x < 500 ? 40 : 210; });
    const Raster<std::uint8_t> upright = test::must(preview(at("turned.jpg"), 100));
    QCOMPARE(upright.size(), (base::Size{60, 100}));
    QVERIFY(std::abs(int(*upright.at(30, 20)) - 40) <= 2 && std::abs(int(*upright.at(30, 80)) - 210) <= 2);
    // See-through parts stay, and weigh nothing.
    test::must(writeTiled(at("thin.png"), test::picture(40, 40, 4, [](int x, int, int c) {
                            return x % 2 ? (c == 3 ? 0 : 255) : (c == 3 ? 200 : 60);
                          })));
    const Raster<std::uint8_t> thin = test::must(preview(at("thin.png"), 10));
    QVERIFY(thin.channels() == 4 && *thin.at(5, 5) == 60 && thin.at(5, 5)[3] == 100);
    // Never larger than the picture; errors as for the whole.
    QCOMPARE(test::must(preview(at("thin.png"), 4000)).size(), (base::Size{40, 40}));
    QCOMPARE(preview(at("nowhere.png"), 100).error().code, base::Code::notFound);
  }
  void whatIsSaidAboutAPictureStays_data() {
    QTest::addColumn<QString>("name");
    for (const char* n : {"m.jpg", "m.png", "m.tif", "m.webp"}) QTest::newRow(n) << QString::fromLatin1(n);
  }
  void whatIsSaidAboutAPictureStays() {
    QFETCH(QString, name);
    const std::string path = dir_.filePath(name).toStdString();
    Metadata m;
    m.title = "The Lamplighter of Fennick Bay";
    m.creator = "M. Fennick";
    m.rights = "all rights with the theatre";
    WriteOptions o{*fileKindOf(path), {20, 10}, PixelFormat::rgb8, 90, 0, true, {}, m};
    test::must(writePicture(path, o, [](int y, std::byte* row) -> base::Status {
      std::fill_n(row, 60, std::byte(y * 10));
      return {};
    }));
    const Metadata got = test::must(readMetadata(path));
    QCOMPARE(got.title, m.title);
    QCOMPARE(got.creator, m.creator);
    QCOMPARE(got.rights, m.rights);
    QVERIFY(readFile(path).ok());
  }
  void theCameraIsKnown() {
    test::must(writeTiled(at("shot.jpg"), test::picture(16, 16, 3, [](int, int, int) { return 90; })));
    const auto image = Exiv2::ImageFactory::open(at("shot.jpg"));
    Exiv2::ExifData& exif = image->exifData();
    exif["Exif.Image.Make"] = "Fennick";
    exif["Exif.Image.Model"] = "Fennick Box 2";
    exif["Exif.Photo.ExposureTime"] = Exiv2::Rational(1, 125);
    exif["Exif.Photo.FNumber"] = Exiv2::Rational(56, 10);
    exif["Exif.Photo.FocalLength"] = Exiv2::Rational(50, 1);
    exif["Exif.Photo.FocalLengthIn35mmFilm"] = std::uint16_t(75);
    exif["Exif.Photo.ISOSpeedRatings"] = std::uint16_t(200);
    image->writeMetadata();
    const Metadata m = test::must(readMetadata(at("shot.jpg")));
    QCOMPARE(m.camera, std::string("Fennick Box 2"));
    QVERIFY(std::abs(m.exposureS - 0.008) < 1e-6 && std::abs(m.aperture - 5.6) < 1e-3);
    QVERIFY(m.focalMm == 50 && m.focal35Mm == 75 && m.iso == 200);
    QVERIFY(readMetadata(at("none.jpg")).error().code == base::Code::notFound);
  }
};
HSEAM_TEST(FormatsTest);
#include "formats_test.moc"
