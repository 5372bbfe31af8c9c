#include <OpenImageIO/imageio.h>
#include <lcms2.h>

#include <QFile>
#include <QTemporaryDir>
#include <cmath>

#include "core/image/lab.h"
#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "inks.h"
#include "pictures.h"
#include "raw_file.h"

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
  // A file made by another hand than the one that reads it here.
  template <class T>
  void write(const char* name, OIIO::ImageSpec spec, const std::vector<T>& samples) const {
    const auto out = OIIO::ImageOutput::create(at(name));
    const OIIO::TypeDesc type = OIIO::BaseTypeFromC<T>::value;
    if (!out || !out->open(at(name), spec) || !out->write_image(type, samples.data()) || !out->close())
      qFatal("cannot write %s", name);
  }

 private slots:
  void eightBitPicturesBecomeLightToo() {
    const auto narrow = test::picture(30, 20, 4, [](int x, int y, int c) { return c == 3 ? 60 + y * 9 : 40 + x * 6 + c * 10; });
    test::must(writeTiled(at("narrow.exr"), narrow));
    const auto in = OIIO::ImageInput::open(at("narrow.exr"));
    QVERIFY(in);
    std::vector<float> light(30 * 20 * 4);
    QVERIFY(in->read_image(OIIO::TypeDesc::FLOAT, light.data()));
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
    OIIO::ImageSpec spec(20, 10, 4, OIIO::TypeDesc::FLOAT);
    spec.attribute("oiio:UnassociatedAlpha", 1);
    std::vector<float> light;
    for (int i = 0; i < 200; ++i) light.insert(light.end(), {0.21404f, float(i) / 199, i == 7 ? 3.f : 0.f, i < 100 ? 1.f : 0.5f});
    for (const int tile : {0, 16}) {
      spec.tile_width = spec.tile_height = tile;
      write("light.tif", spec, light);
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
    // By another reader: light, alpha multiplied in.
    const auto in = OIIO::ImageInput::open(at("a.exr"));
    QVERIFY(in && in->spec().format == OIIO::TypeDesc::HALF);
    std::vector<float> light(70 * 40 * 4);
    QVERIFY(in->read_image(0, 0, 0, 4, OIIO::TypeDesc::FLOAT, light.data()));
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
    write("bright.exr", {20, 10, 3, OIIO::TypeDesc::FLOAT}, samples);
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
    std::vector<std::uint16_t> samples;
    for (int i = 0; i < 30 * 20; ++i) {
      samples.push_back(std::uint16_t(i * 100));
      samples.push_back(std::uint16_t(65535 - i * 90));
    }
    OIIO::ImageSpec spec(30, 20, 2, OIIO::TypeDesc::UINT16);
    spec.alpha_channel = 1;
    spec.channelnames = {"Y", "A"};
    spec.attribute("oiio:UnassociatedAlpha", 1);
    write("ga.png", spec, samples);
    const Picture p = test::must(readFile(at("ga.png")));
    QCOMPARE(p.pixels.format(), PixelFormat::rgba16);
    const auto r = test::must(readFloat(p.pixels, 0, {7, 9, 1, 1}));
    const int i = 9 * 30 + 7;
    for (int c = 0; c < 3; ++c) QCOMPARE(r.at(0, 0)[c], float(i * 100) / 65535.f);
    QCOMPARE(r.at(0, 0)[3], float(65535 - i * 90) / 65535.f);
  }
  void oneBitPictures() {
    std::vector<std::uint8_t> samples;
    for (int i = 0; i < 40 * 16; ++i) samples.push_back(i % 3 == 0 ? 255 : 0);
    OIIO::ImageSpec spec(40, 16, 1, OIIO::TypeDesc::UINT8);
    spec.attribute("oiio:BitsPerSample", 1);
    write("bits.tif", spec, samples);
    const Picture p = test::must(readFile(at("bits.tif")));
    for (const int x : {0, 1, 2, 3, 30, 31}) QCOMPARE(pixel(p, x, 0)[1], x % 3 == 0 ? 1.0 : 0.0);
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
    WriteOptions o{*fileKindOf(path), {20, 10}, PixelFormat::rgb8, 90, true, m};
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
    OIIO::ImageSpec spec(16, 16, 3, OIIO::TypeDesc::UINT8);
    spec.attribute("Make", "Fennick");
    spec.attribute("Model", "Fennick Box 2");
    spec.attribute("ExposureTime", 0.008f);
    spec.attribute("FNumber", 5.6f);
    spec.attribute("Exif:FocalLength", 50.f);
    spec.attribute("Exif:FocalLengthIn35mmFilm", 75);
    spec.attribute("Exif:PhotographicSensitivity", 200);
    write("shot.jpg", spec, std::vector<std::uint8_t>(16 * 16 * 3, 90));
    const Metadata m = test::must(readMetadata(at("shot.jpg")));
    QCOMPARE(m.camera, std::string("Fennick Box 2"));
    QVERIFY(std::abs(m.exposureS - 0.008) < 1e-6 && std::abs(m.aperture - 5.6) < 1e-3);
    QVERIFY(m.focalMm == 50 && m.focal35Mm == 75 && m.iso == 200);
    QVERIFY(readMetadata(at("none.jpg")).error().code == base::Code::notFound);
  }
};
HSEAM_TEST(FormatsTest);
#include "formats_test.moc"
