#include "core/repair/structure_line.h"

#include <cmath>

#include "core/repair/fill.h"
#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kLineWide = 320, kLineHigh = 220;

double leaf(int x, int y, int c) {
  std::uint64_t v = (std::uint64_t(x / 3) * 73856093u) ^ (std::uint64_t(y / 2) * 19349663u);
  v = (v ^ (v >> 13)) * 0x5bd1e995u;
  return 60 + 90 * (double(v >> 9 & 255) / 255) + (c == 1 ? 25 : 0);
}
// A hose before the leaves, 9 px wide, lighter above; how it winds cannot be told from its ends alone.
double hoseY(double x) {
  return 112 + 30 * std::sin(x / 19) + 0.06 * x;
}
double fromTheHose(double x, double y) {
  double best = 1e9;
  for (double u = x - 14; u <= x + 14; u += 0.5) {
    const double d = std::hypot(u - x, hoseY(u) - y);
    if (d < std::abs(best)) best = y < hoseY(x) ? -d : d;
  }
  return best;
}
double withHose(int x, int y, int c) {
  const double d = fromTheHose(x + 0.5, y + 0.5);
  return std::abs(d) < 4.5 ? 225 - 8 * d - 10 * c : leaf(x, y, c);
}
bool inHole(int x, int y) {
  return std::hypot((x - 165) / 44.0, (y - 110) / 36.0) < 1;
}
// Of the hose's px in the hole, the share that look like it.
double shareOfHose(const image::TiledImage& got) {
  const auto p = test::must(image::read8(got, 0, {0, 0, kLineWide, kLineHigh}));
  double whole = 0, n = 0;
  for (int y = 0; y < kLineHigh; ++y) {
    for (int x = 0; x < kLineWide; ++x) {
      if (!inHole(x, y) || std::abs(fromTheHose(x + 0.5, y + 0.5)) > 3.5) continue;
      n += 1;
      whole += std::abs(p.at(x, y)[1] - withHose(x, y, 1)) < 25;
    }
  }
  return whole / n;
}

}  // namespace

class StructureLineTest : public QObject {
  Q_OBJECT
 private slots:
  void aHoseGoesOnAcrossTheHole_data() {
    QTest::addColumn<double>("aside");
    QTest::newRow("drawn where it is") << 0.0;
    QTest::newRow("drawn two px above it") << -2.0;
  }
  void aHoseGoesOnAcrossTheHole() {
    QFETCH(double, aside);
    const auto picture =
        test::picture(kLineWide, kLineHigh, 3, [](int x, int y, int c) { return inHole(x, y) ? 128.0 : withHose(x, y, c); });
    const auto hole = test::picture(kLineWide, kLineHigh, 1, [](int x, int y, int) { return inHole(x, y) ? 255.0 : 0.0; });
    repair::FillOptions options;
    repair::StructureLine drawn;
    for (int x = 70; x <= 262; x += 6) drawn.push_back({double(x), hoseY(x) + aside});
    options.lines = {drawn};
    const auto got = test::must(repair::filled(picture, hole, options, test::here(), {}));
    const double plain = shareOfHose(test::must(repair::filled(picture, hole, {}, test::here(), {}))), lined = shareOfHose(got);
    QVERIFY2(lined > 0.9 && plain < 0.75 * lined, qPrintable(QStringLiteral("%1, without the line %2").arg(lined).arg(plain)));
    // Beside it leaves, and nothing outside has changed.
    const auto p = test::must(image::read8(got, 0, {0, 0, kLineWide, kLineHigh})),
               before = test::must(image::read8(picture, 0, {0, 0, kLineWide, kLineHigh}));
    double light = 0, n = 0;
    for (int y = 0; y < kLineHigh; ++y) {
      for (int x = 0; x < kLineWide; ++x) {
        if (!inHole(x, y)) QVERIFY(p.at(x, y)[0] == before.at(x, y)[0]);
        if (inHole(x, y) && std::abs(fromTheHose(x, y)) > 12) light += p.at(x, y)[1], n += 1;
      }
    }
    QVERIFY2(std::abs(light / n - 130) < 12, qPrintable(QString::number(light / n)));
  }
  void aLineThatIsSeenNowhereIsLeftToTheFill() {
    image::Raster<float> colours(80, 80, 3, 0.5f);
    image::Raster<std::uint8_t> hole(80, 80, 1), source(80, 80, 1, 1);
    for (int y = 0; y < 80; ++y) {
      for (int x = 0; x < 80; ++x) {
        *hole.at(x, y) = std::hypot(x - 40, y - 40) < 20;
        *source.at(x, y) = std::uint8_t(*hole.at(x, y) ? 0 : x < 6);  // too narrow for a patch
      }
    }
    const auto before = hole.samples();
    QVERIFY(!repair::continueLines(colours, hole, source, {{{10, 40}, {70, 40}}}));
    QVERIFY(!repair::continueLines(colours, hole, source, {{{10, 10}, {14, 10}}}));
    QVERIFY(!repair::continueLines(colours, hole, source, {{{30, 30}}}));
    QVERIFY(hole.samples() == before);
  }
};

HSEAM_TEST(StructureLineTest);
#include "structure_line_test.moc"
