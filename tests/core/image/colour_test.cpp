#include <cmath>

#include "core/image/colour_profile.h"
#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "pictures.h"

using namespace hseam::image;

class ColourTest : public QObject {
  Q_OBJECT
 private slots:
  void fastCurvesStayWithinTheirBounds() {
    double worstLinear = 0, worstSeen = 0, worstEncoded = 0;
    for (int i = 0; i <= 200000; ++i) {
      const float x = float(i) / 200000;
      worstLinear = std::max(worstLinear, std::abs(double(fastLinear(x)) - linearFromEncoded(double(x))));
      worstSeen = std::max(worstSeen, std::abs(encodedFromLinear(double(fastLinear(x))) - double(x)));
      worstEncoded = std::max(worstEncoded, std::abs(double(fastEncoded(x)) - encodedFromLinear(double(x))));
    }
    QVERIFY2(worstLinear < 2e-6, qPrintable(QString::number(worstLinear)));
    QVERIFY2(worstSeen < 1e-6, qPrintable(QString::number(worstSeen)));
    QVERIFY2(worstEncoded < 5e-6, qPrintable(QString::number(worstEncoded)));
    QCOMPARE(fastEncoded(-1.f), 0.f);
    QCOMPARE(fastEncoded(7.f), 1.f);
    QCOMPARE(fastLinear(1.f), 1.f);
  }
  void everyByteSurvivesTheRoundTrip() {
    for (int v = 0; v < 256; ++v) QCOMPARE(int(std::lround(fastEncoded(linearOf8()[std::size_t(v)]) * 255)), v);
  }
  // Pairs from the test data of Sharma, Wu, Dalal 2005, table 1.
  void deltaE2000MatchesThePublishedPairs_data() {
    QTest::addColumn<QList<double>>("v");
    QTest::newRow("1") << QList<double>{50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425};
    QTest::newRow("7") << QList<double>{50, 0, 0, 50, -1, 2, 2.3669};
    QTest::newRow("9") << QList<double>{50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792};
    QTest::newRow("13") << QList<double>{50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045};
    QTest::newRow("17") << QList<double>{50, 2.5, 0, 73, 25, -18, 27.1492};
    QTest::newRow("25") << QList<double>{60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644};
    QTest::newRow("33") << QList<double>{6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377};
  }
  void deltaE2000MatchesThePublishedPairs() {
    QFETCH(QList<double>, v);
    QVERIFY2(std::abs(deltaE2000({v[0], v[1], v[2]}, {v[3], v[4], v[5]}) - v[6]) < 1e-4,
             qPrintable(QString::number(deltaE2000({v[0], v[1], v[2]}, {v[3], v[4], v[5]}))));
  }
  void labOfKnownColours() {
    const Lab white = labFromEncoded({1, 1, 1}), grey = labFromEncoded({0.5, 0.5, 0.5}), red = labFromEncoded({1, 0, 0});
    QVERIFY(std::abs(white.l - 100) < 0.01 && std::abs(white.a) < 0.02 && std::abs(white.b) < 0.02);
    QVERIFY(std::abs(grey.l - 53.389) < 0.01);
    QVERIFY(std::abs(red.l - 54.29) < 0.02 && std::abs(red.a - 80.81) < 0.05 && std::abs(red.b - 69.89) < 0.05);
  }
  void ourOwnProfileIsSrgb() {
    const auto profile = srgbProfile();
    QVERIFY(profile.size() > 300);
    QVERIFY(hseam::test::must(ProfileTransform::make(profile, ProfileTransform::Kind::rgb, false)).isSrgb());
    QCOMPARE(ProfileTransform::make(profile, ProfileTransform::Kind::grey, false).error().code, hseam::base::Code::unsupported);
    const std::vector<std::byte> junk(400, std::byte{42});
    QCOMPARE(ProfileTransform::make(junk, ProfileTransform::Kind::rgb, false).error().code, hseam::base::Code::corrupt);
  }
};
HSEAM_TEST(ColourTest);
#include "colour_test.moc"
