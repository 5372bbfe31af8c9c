#include "core/render/blend.h"
#include "reference/composite.h"
#include "scenes.h"

using namespace hseam;

class BlendTest : public QObject {
  Q_OBJECT
 private slots:
  // Values worked out by hand from the formulas of the W3C text.
  void publishedFormulas_data() {
    QTest::addColumn<int>("mode");
    QTest::addColumn<QList<double>>("v");  // backdrop, source, result
    using M = scene::BlendMode;
    QTest::newRow("multiply") << int(M::multiply) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.4, 0.25, 0.18};
    QTest::newRow("screen") << int(M::screen) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.9, 0.75, 0.92};
    QTest::newRow("overlay") << int(M::overlay) << QList<double>{0.8, 0.25, 0.5, 0.5, 0.6, 0.3, 0.8, 0.3, 0.3};
    QTest::newRow("soft-light dark") << int(M::softLight) << QList<double>{0.5, 0.5, 0.5, 0.0, 0.25, 0.5, 0.25, 0.375, 0.5};
    QTest::newRow("soft-light light") << int(M::softLight) << QList<double>{0.25, 0.81, 0.16, 1, 1, 1, 0.5, 0.9, 0.398336};
    // Lum(red) = 0.3: grey 0.5 with red's hue, clipped: 0.5 + (0.7, −0.3, −0.3) = (1.2, 0.2, 0.2), pulled to luma 0.5.
    QTest::newRow("color") << int(M::color) << QList<double>{0.5, 0.5, 0.5, 1, 0, 0, 1.0, 0.285714, 0.285714};
    QTest::newRow("luminosity") << int(M::luminosity) << QList<double>{0.2, 0.4, 0.6, 0.7, 0.7, 0.7, 0.538, 0.738, 0.938};
    QTest::newRow("darken") << int(M::darken) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.5, 0.5, 0.2};
    QTest::newRow("lighten") << int(M::lighten) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.8, 0.5, 0.9};
    QTest::newRow("color-dodge") << int(M::colorDodge) << QList<double>{0.2, 0, 0.5, 0.5, 1, 1, 0.4, 0, 1};
    QTest::newRow("color-burn") << int(M::colorBurn) << QList<double>{0.8, 1, 0.5, 0.5, 0, 0, 0.6, 1, 0};
    QTest::newRow("hard-light") << int(M::hardLight) << QList<double>{0.8, 0.5, 0.2, 0.25, 0.5, 0.9, 0.4, 0.5, 0.84};
    QTest::newRow("difference") << int(M::difference) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.3, 0, 0.7};
    QTest::newRow("exclusion") << int(M::exclusion) << QList<double>{0.8, 0.5, 0.2, 0.5, 0.5, 0.9, 0.5, 0.5, 0.74};
    // Sat(Cb) = 0.2 goes to the hue red-to-blue (1, 0, 0.5): (0.2, 0, 0.1), moved from luma 0.071 to 0.378.
    QTest::newRow("hue") << int(M::hue) << QList<double>{0.3, 0.4, 0.5, 1, 0, 0.5, 0.51, 0.31, 0.41};
    // Sat(Cs) = 0.4 in place of 0.2: (0, 0.2, 0.4), moved from luma 0.162 to 0.381.
    QTest::newRow("saturation") << int(M::saturation) << QList<double>{0.3, 0.4, 0.5, 0.5, 0.1, 0.3, 0.219, 0.419, 0.619};
    // Light: 0.5 encoded is 0.214041 linear; twice that is 0.685836 encoded.
    QTest::newRow("add") << int(M::add) << QList<double>{0.5, 0, 1, 0.5, 0.3, 0.2, 0.685836, 0.3, 1};
    QTest::newRow("subtract") << int(M::subtract) << QList<double>{0.685836, 0.3, 0.2, 0.5, 0, 1, 0.5, 0.3, 0};
    QTest::newRow("divide") << int(M::divide) << QList<double>{0.5, 0, 0.2, 0.685836, 0, 0, 0.735357, 0, 1};
    QTest::newRow("normal") << int(M::normal) << QList<double>{0.2, 0.4, 0.6, 0.1, 0.9, 0.3, 0.1, 0.9, 0.3};
  }
  void publishedFormulas() {
    QFETCH(int, mode);
    QFETCH(QList<double>, v);
    render::Planes b(1), s(1), o(1);
    for (int c = 0; c < 3; ++c) {
      b.colour(c)[0] = float(v[c]);
      s.colour(c)[0] = float(v[3 + c]);
    }
    render::blendPlanes(scene::BlendMode(mode), b, s, o);
    for (int c = 0; c < 3; ++c)
      QVERIFY2(std::abs(double(o.colour(c)[0]) - v[6 + c]) < 1.2e-5, qPrintable(QString::number(double(o.colour(c)[0]), 'f', 7)));
  }
  void everyModeAgreesWithTheReference() {
    test::Noise noise(4);
    for (int m = 0; m < scene::kBlendModeCount; ++m) {
      render::Planes b(500), s(500), o(500);
      for (int i = 0; i < 500; ++i) {
        for (int c = 0; c < 3; ++c) {
          // Many exact zeros and ones: that is where formulas break.
          const auto value = [&] { return noise.below(4) == 0 ? float(noise.below(2)) : float(noise.unit()); };
          b.colour(c)[i] = value();
          s.colour(c)[i] = value();
          // Greys have no hue and no chroma: the formulas for whole colours divide by it.
          if (c > 0 && i % 3 == 0) s.colour(c)[i] = s.colour(0)[i];
          if (c > 0 && i % 5 == 0) b.colour(c)[i] = b.colour(0)[i];
        }
      }
      render::blendPlanes(scene::BlendMode(m), b, s, o);
      for (int i = 0; i < 500; ++i) {
        const auto expected =
            reference::blend(scene::BlendMode(m), {double(b.colour(0)[i]), double(b.colour(1)[i]), double(b.colour(2)[i])},
                             {double(s.colour(0)[i]), double(s.colour(1)[i]), double(s.colour(2)[i])});
        for (int c = 0; c < 3; ++c)
          QVERIFY2(std::abs(double(o.colour(c)[i]) - expected[std::size_t(c)]) < 3e-5, scene::blendModeName(scene::BlendMode(m)));
      }
    }
  }
  void namesGoBothWays() {
    for (int m = 0; m < scene::kBlendModeCount; ++m)
      QCOMPARE(scene::blendModeNamed(scene::blendModeName(scene::BlendMode(m))), scene::BlendMode(m));
    QVERIFY(!scene::blendModeNamed("shiny"));
  }
};
HSEAM_TEST(BlendTest);
#include "blend_test.moc"
