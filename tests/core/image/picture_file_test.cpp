#include <lcms2.h>

#include <QFile>
#include <QTemporaryDir>

#include "core/image/door/picture_door.h"
#include "core/image/picture_file.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::image;

namespace {

// A JPEG's EXIF segment that holds nothing but the orientation.
QByteArray withOrientation(QByteArray jpeg, char orientation) {
  QByteArray tiff("II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0", 18);
  tiff += orientation;
  tiff += QByteArray("\0\0\0\0\0\0\0", 7);
  QByteArray body = QByteArray("Exif\0\0", 6) + tiff;
  const int length = int(body.size()) + 2;
  QByteArray segment("\xff\xe1", 2);
  segment += char(length >> 8);
  segment += char(length & 255);
  return jpeg.insert(2, segment + body);
}

}  // namespace

class PictureFileTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  static QByteArray bytesOf(const std::string& path) {
    QFile f(QString::fromStdString(path));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  std::string put(const char* name, const QByteArray& bytes) const {
    QFile f(dir_.filePath(QLatin1String(name)));
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size()) qFatal("cannot write a test file");
    return at(name);
  }
  static base::Result<Picture> readFile(const std::string& path) { return readPicture(path, test::memory(), test::here(), {}); }

 private slots:
  void losslessFormatsKeepEveryBit_data() {
    QTest::addColumn<QString>("ending");
    QTest::addColumn<int>("channels");
    for (const char* e : {"png", "tif"}) {
      for (int c : {3, 4}) QTest::addRow("%s %d", e, c) << QString::fromLatin1(e) << c;
    }
  }
  void losslessFormatsKeepEveryBit() {
    QFETCH(QString, ending);
    QFETCH(int, channels);
    const auto r = test::raster(301, 270, channels,
                                [](int x, int y, int c) { return c == 3 ? (x + y) % 256 : (x * 3 + y * 5 + c * 70) % 256; });
    const std::string path = dir_.filePath(QStringLiteral("a.") + ending).toStdString();
    test::must(writeTiled(path, test::picture(r)));
    const Picture p = test::must(readFile(path));
    QCOMPARE(p.pixels.format(), channels == 3 ? PixelFormat::rgb8 : PixelFormat::rgba8);
    QVERIFY(test::must(read8(p.pixels, 0, {0, 0, 301, 270})).samples() == r.samples());
    QVERIFY(p.warnings.empty());
  }
  void sixteenBitSurvives() {
    const auto image = test::must(tiledFromRows({40, 30}, PixelFormat::rgb16, test::memory(), test::here(), {},
                                                [](int, int count, std::byte* rows) -> base::Status {
                                                  auto* px = reinterpret_cast<std::uint16_t*>(rows);
                                                  for (int i = 0; i < count * 120; ++i) px[i] = std::uint16_t(i * 17);
                                                  return {};
                                                }));
    test::must(writeTiled(at("wide.png"), image));
    const Picture p = test::must(readFile(at("wide.png")));
    QCOMPARE(p.pixels.format(), PixelFormat::rgb16);
    QCOMPARE(test::must(readFloat(p.pixels, 0, {11, 7, 1, 1})).at(0, 0)[2], float(((7 * 40 + 11) * 3 + 2) * 17) / 65535.f);
  }
  void jpegIsCloseAndDisplayedUpright() {
    // Left half dark, right half light, so that turning shows.
    test::must(writeTiled(at("j.jpg"), test::picture(64, 32, 3, [](int x, int, int) { return x < 32 ? 40 : 210; }), 95));
    const auto plain = test::must(readFile(at("j.jpg")));
    QVERIFY(std::abs(int(*test::must(read8(plain.pixels, 0, {5, 5, 1, 1})).at(0, 0)) - 40) <= 2);
    const struct {
      char orientation;
      int width, x, y, expected;
    } cases[] = {{2, 64, 5, 5, 210},  {3, 64, 5, 5, 210}, {6, 32, 5, 5, 40},
                 {6, 32, 5, 60, 210}, {8, 32, 5, 5, 210}, {8, 32, 5, 60, 40}};
    for (const auto& c : cases) {
      const Picture p = test::must(readFile(put("turned.jpg", withOrientation(bytesOf(at("j.jpg")), c.orientation))));
      QCOMPARE(p.pixels.size().width, c.width);
      const int v = int(*test::must(read8(p.pixels, 0, {c.x, c.y, 1, 1})).at(0, 0));
      QVERIFY2(std::abs(v - c.expected) <= 3, qPrintable(QStringLiteral("orientation %1: %2").arg(int(c.orientation)).arg(v)));
    }
  }
  void embeddedProfileIsHonoured() {
    // The same numbers under a wider space are more saturated in sRGB. Checked against Little CMS's own conversion.
    cmsCIExyY white;
    cmsWhitePointFromTemp(&white, 6504);
    const cmsCIExyYTRIPLE wide = {{0.64, 0.33, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
    cmsToneCurve* gamma = cmsBuildGamma(nullptr, 2.2);
    cmsToneCurve* curves[3] = {gamma, gamma, gamma};
    cmsHPROFILE profile = cmsCreateRGBProfile(&white, &wide, curves), srgb = cmsCreate_sRGBProfile();
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile, nullptr, &size);
    std::vector<std::byte> bytes(size);
    cmsSaveProfileToMem(profile, bytes.data(), &size);
    const std::uint8_t in[3] = {90, 160, 110};
    std::uint16_t expected[3];
    cmsHTRANSFORM t =
        cmsCreateTransform(profile, TYPE_RGB_8, srgb, TYPE_RGB_16, INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_BLACKPOINTCOMPENSATION);
    cmsDoTransform(t, in, expected, 1);
    QVERIFY(std::abs(int(expected[0]) / 257 - 90) > 10);  // the profile matters
    cmsDeleteTransform(t);

    // Through a file of the format's own: a PNG whose iCCP chunk is ours.
    test::must(writeTiled(at("plain.png"), test::picture(20, 20, 3, [&](int, int, int c) { return in[c]; })));
    QByteArray png = bytesOf(at("plain.png"));
    const auto chunk = png.indexOf("iCCP");
    QVERIFY2(chunk > 0, "our own files embed a profile");
    const QByteArray packed = qCompress(QByteArray(reinterpret_cast<const char*>(bytes.data()), int(bytes.size())), 9).mid(4);
    const QByteArray body = QByteArray("iCCP") + QByteArray("wide\0\0", 6) + packed;
    const auto be = [](quint32 v) { return QByteArray(1, char(v >> 24)) + char(v >> 16) + char(v >> 8) + char(v); };
    quint32 crc = 0xffffffffu;
    for (const char byte : body) {
      crc ^= quint8(byte);
      for (int k = 0; k < 8; ++k) crc = crc & 1 ? (crc >> 1) ^ 0xedb88320u : crc >> 1;
    }
    const quint32 old =
        (quint8(png[chunk - 4]) << 24) | (quint8(png[chunk - 3]) << 16) | (quint8(png[chunk - 2]) << 8) | quint8(png[chunk - 1]);
    png.replace(chunk - 4, int(old) + 12, be(quint32(body.size() - 4)) + body + be(~crc));
    const Picture p = test::must(readFile(put("wide.png", png)));
    QCOMPARE(p.pixels.format(), PixelFormat::rgb16);
    const auto px = test::must(readFloat(p.pixels, 0, {3, 3, 1, 1}));
    for (int c = 0; c < 3; ++c) QVERIFY(std::abs(px.at(0, 0)[c] * 65535 - expected[c]) < 40);
    cmsFreeToneCurve(gamma);
    cmsCloseProfile(profile);
    cmsCloseProfile(srgb);
  }
  void straightAlphaIsNotPremultiplied() {
    test::must(writeTiled(at("thin.png"), test::picture(8, 8, 4, [](int, int, int c) { return c == 3 ? 1 : 200 - c * 50; })));
    const auto px = test::must(read8(test::must(readFile(at("thin.png"))).pixels, 0, {2, 2, 1, 1}));
    QCOMPARE(int(px.at(0, 0)[0]), 200);
    QCOMPARE(int(px.at(0, 0)[2]), 100);
  }
  void badFilesAreToldApart_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<int>("code");
    QTest::newRow("empty") << QByteArray() << int(base::Code::corrupt);
    QTest::newRow("text") << QByteArray("Dear printer, please find attached") << int(base::Code::unsupported);
    QTest::newRow("only a signature") << QByteArray("\x89PNG\r\n\x1a\n") << int(base::Code::corrupt);
    QTest::newRow("jpeg start, then text") << QByteArray("\xff\xd8\xff") + QByteArray(4000, 'x') << int(base::Code::corrupt);
    QTest::newRow("tiff start, then nothing") << QByteArray("II*\0", 4) << int(base::Code::corrupt);
    // A header of 100000 × 100000 px whose checksum is right.
    QTest::newRow("huge png") << QByteArray::fromHex(
                                     "89504e470d0a1a0a0000000d49484452000186a0000186a008020000004fbbd8de0000000049454e44ae426082")
                              << -1;
  }
  void badFilesAreToldApart() {
    QFETCH(QByteArray, bytes);
    QFETCH(int, code);
    const auto read = readFile(put("bad.jpg", bytes));
    QVERIFY(!read.ok());
    if (code >= 0) QCOMPARE(int(read.error().code), code);
    if (code < 0) QVERIFY(read.error().code == base::Code::limitExceeded || read.error().code == base::Code::corrupt);
    QVERIFY(!read.error().text().empty());
  }
  void missingAndFoldersAreNamed() {
    QCOMPARE(readFile(at("nowhere.png")).error().code, base::Code::notFound);
    QCOMPARE(readFile(dir_.path().toStdString()).error().code, base::Code::unsupported);
  }
  void truncatedJpegIsShownWithAWarning() {
    test::must(
        writeTiled(at("whole.jpg"), test::picture(400, 400, 3, [](int x, int y, int c) { return (x * y + c * 40) % 251; }), 90));
    const QByteArray whole = bytesOf(at("whole.jpg"));
    const auto read = readFile(put("cut.jpg", whole.left(whole.size() / 2)));
    QVERIFY(!read.ok() || !read->warnings.empty());
  }
  void failedWritesLeaveWhatWasThere() {
    const std::string path = at("kept.png");
    test::must(writeTiled(path, test::picture(20, 20, 3, [](int, int, int) { return 9; })));
    const QByteArray before = bytesOf(path);
    int rows = 0;
    const auto failed = writePicture(path, {FileKind::png, {20, 20}, PixelFormat::rgb8}, [&](int, std::byte*) -> base::Status {
      if (++rows > 10) return base::Error{base::Code::cancelled, "", "stopped"};
      return {};
    });
    QCOMPARE(failed.error().code, base::Code::cancelled);
    QCOMPARE(bytesOf(path), before);
    QCOMPARE(QDir(dir_.path()).entryList({QStringLiteral(".kept*")}, QDir::Files | QDir::Hidden).size(), 0);
    QCOMPARE(writeTiled("/nowhere/at/all.png", test::picture(2, 2, 3, [](int, int, int) { return 0; })).error().code,
             base::Code::unwritable);
  }
};
HSEAM_TEST(PictureFileTest);
#include "picture_file_test.moc"
