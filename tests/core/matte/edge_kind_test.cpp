// What kind of edge is where, on a subject that has all three.
#include "core/matte/edge_readings.h"
#include "core/matte/found_band.h"
#include "core/matte/solver.h"
#include "core/matte/trimap.h"
#include "pictures.h"
#include "truth/rendered_mattes.h"

using namespace hseam;

namespace {

image::TiledImage tiled(const image::Raster<float>& r) {
  return test::picture(r.width(), r.height(), r.channels(), [&](int x, int y, int c) { return double(r.at(x, y)[c]) * 255; });
}

truth::Description mixedOver(truth::Ground ground, std::uint64_t seed) {
  truth::Description d;
  d.kind = truth::Kind::mixed, d.ground = ground, d.seed = seed;
  d.width = 700, d.height = 580;
  return d;
}

}  // namespace

class EdgeKindTest : public QObject {
  Q_OBJECT
 private slots:
  void kindsAreFoundFromARoughSelection_data() {
    QTest::addColumn<int>("ground");
    QTest::newRow("paper") << int(truth::Ground::paper);
    QTest::newRow("clouds") << int(truth::Ground::clouds);
    QTest::newRow("boards") << int(truth::Ground::boards);
  }
  void kindsAreFoundFromARoughSelection() {
    QFETCH(int, ground);
    const truth::Description d = mixedOver(truth::Ground(ground), 31);
    const truth::Matte m = truth::rendered(d);
    const image::TiledImage picture = tiled(m.picture), selection = test::picture(truth::roughSelection(m.alpha, 10, 80, 3));
    const auto band = test::must(matte::findBand(picture, selection, {}, test::here(), {}));
    const auto cut = test::must(matte::solveCut(picture, band, {}, image::PixelFormat::grey8, test::here(), {}));
    const auto outline = test::must(matte::unrolled(cut.alpha));
    const auto readings = test::must(matte::edgeReadings(outline, 0, int(outline.places.size()), cut.alpha, cut.clean, picture));
    const auto stretches = matte::stretchesOf(outline, readings);
    int right = 0, all = 0, places = 0;
    for (const matte::Stretch& s : stretches) {
      QVERIFY(s.confidence >= 0 && s.confidence <= 1);
      QCOMPARE(s.first, places);
      places += s.count;
      for (int i = s.first; i < s.first + s.count; ++i) {
        const auto& at = outline.places[std::size_t(i)].at;
        const truth::EdgeTag tag = truth::edgeTagAt(d, at.x, at.y);
        // The picture's own border is no edge.
        if (tag == truth::EdgeTag::between || at.y > d.height - 30) continue;
        ++all;
        right += int(tag) == int(s.kind);
      }
    }
    QCOMPARE(places, int(outline.places.size()));
    QVERIFY(all > 600);
    QVERIFY2(right >= 0.9 * all, qPrintable(QString("%1 of %2 px").arg(right).arg(all)));
    // Thin where the edge is crisp, wide where strands are: undecided px for each px of outline.
    const auto labels = test::must(image::read8(band, 0, base::Rect::of(band.size())));
    double crisp = 0, hairy = 0;
    for (int y = 0; y < labels.height() - 30; ++y) {
      for (int x = 0; x < labels.width(); ++x) {
        if (matte::knownOf(*labels.at(x, y)) != matte::Known::undecided) continue;
        const truth::EdgeTag tag = truth::edgeTagAt(d, x, y);
        crisp += tag == truth::EdgeTag::solid, hairy += tag == truth::EdgeTag::hair;
      }
    }
    QVERIFY2(hairy > 1.7 * crisp, qPrintable(QString("%1 %2").arg(hairy).arg(crisp)));
  }
  void aBandNeedsAnEdge() {
    const auto picture = test::picture(60, 50, 3, [](int x, int, int) { return x * 4; });
    for (const int all : {0, 255}) {
      const auto r = matte::findBand(picture, test::picture(60, 50, 1, [&](int, int, int) { return all; }), {}, test::here(), {});
      QVERIFY(!r.ok());
      QCOMPARE(r.error().code, base::Code::invalid);
    }
  }
  void findingStopsWhenItIsCancelled() {
    const truth::Matte m = truth::rendered(mixedOver(truth::Ground::paper, 5));
    std::stop_source stop;
    stop.request_stop();
    const auto r = matte::findBand(tiled(m.picture), test::picture(truth::roughSelection(m.alpha, 10, 80, 3)), {}, test::here(),
                                   base::Progress(stop.get_token(), {}));
    QVERIFY(!r.ok());
    QCOMPARE(r.error().code, base::Code::cancelled);
  }
};
HSEAM_TEST(EdgeKindTest);
#include "edge_kind_test.moc"
