#include "core/select/pieces.h"

#include "core/select/shape.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::select;

namespace {

// Discs with soft rims, and a speck.
image::TiledImage discs() {
  return test::picture(400, 300, 1, [](int x, int y, int) {
    const auto disc = [&](double cx, double cy, double r) {
      return 255 * std::clamp((r - std::hypot(x + 0.5 - cx, y + 0.5 - cy)) / 6 + 0.5, 0.0, 1.0);
    };
    return std::max({disc(100, 150, 60), disc(300, 100, 40), disc(300, 240, 3)});
  });
}

}  // namespace

class PiecesTest : public QObject {
  Q_OBJECT
 private slots:
  void whatStandsByItselfIsAPiece() {
    const Pieces p = test::must(pieces(discs(), 500));
    QCOMPARE(p.count(), 2);
    QVERIFY(std::abs(p.areaPx[0] - M_PI * 60 * 60) < 120);
    QVERIFY(std::abs(p.areaPx[1] - M_PI * 40 * 40) < 80);
    QCOMPARE(int(*p.nearest.at(100, 150)), 0);
    QCOMPARE(int(*p.nearest.at(300, 100)), 1);
    QCOMPARE(int(*p.nearest.at(300, 240)), 1);  // the speck lies nearer to the smaller one
    // Half-way between the two rims, on the line of their middles.
    const double dx = 200 / std::hypot(200.0, -50.0), dy = -50 / std::hypot(200.0, -50.0);
    const double between = 60 + (std::hypot(200.0, 50.0) - 100) / 2;
    QCOMPARE(int(*p.nearest.at(int(100 + dx * (between - 4)), int(150 + dy * (between - 4)))), 0);
    QCOMPARE(int(*p.nearest.at(int(100 + dx * (between + 4)), int(150 + dy * (between + 4)))), 1);
  }
  void onlyOnePieceKeepsItsRimToTheBit() {
    const image::TiledImage all = discs();
    const Pieces p = test::must(pieces(all, 500));
    const auto one = test::must(onlyPiece(all, p, 0, 0, test::here())), other = test::must(onlyPiece(all, p, 1, 0, test::here()));
    const auto a = test::must(image::read8(all, 0, {0, 0, 400, 300})), b = test::must(image::read8(one, 0, {0, 0, 400, 300})),
               c = test::must(image::read8(other, 0, {0, 0, 400, 300}));
    for (std::size_t i = 0; i < a.samples().size(); ++i) {
      QVERIFY(b.samples()[i] == 0 || c.samples()[i] == 0);
      QCOMPARE(int(b.samples()[i]) + int(c.samples()[i]), int(a.samples()[i]));
    }
    QVERIFY(test::must(onlyPiece({}, p, 0, 0, test::here())).isNull());
  }
  void nothingLargeEnoughIsSaid() {
    const auto none = pieces(discs(), 1e6);
    QVERIFY(!none.ok());
    QCOMPARE(none.error().code, base::Code::invalid);
  }
};

HSEAM_TEST(PiecesTest);
#include "pieces_test.moc"
