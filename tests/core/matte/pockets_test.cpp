#include "core/matte/pockets.h"

#include "core/matte/trimap.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::matte;

namespace {

constexpr int kSize = 800;

// Paper on the left, cloth from x = 400 on; the band lies around x = 400. Two pockets of paper show in the cloth.
image::TiledImage pocketPicture(double clothR, double clothG, double clothB, double paperNoise) {
  test::Noise noise(3);
  return test::picture(kSize, kSize, 3, [=](int x, int y, int c) mutable {
    const bool near = std::hypot(x - 450, y - 300) < 12, far = std::hypot(x - 720, y - 300) < 12;
    const double cloth[3] = {clothR, clothG, clothB};
    return x < 400 || near || far ? 238 + paperNoise * (noise.unit() - 0.5) : cloth[c] + 6 * (noise.unit() - 0.5);
  });
}
image::TiledImage band() {
  return test::picture(kSize, kSize, 1,
                       [](int x, int, int) { return x < 385 ? kBackground : (x < 415 ? kUndecided : kSubject); });
}
Known at(const image::TiledImage& i, int x, int y) {
  return knownOf(*test::must(image::read8(i, 0, {x, y, 1, 1})).at(0, 0));
}

}  // namespace

class PocketsTest : public QObject {
  Q_OBJECT
 private slots:
  void paperBetweenStrandsIsReopenedNearTheEdgeOnly() {
    const auto out = test::must(openPockets(band(), pocketPicture(70, 60, 60, 6), 100, test::here(), {}));
    QCOMPARE(at(out, 450, 300), Known::background);
    QCOMPARE(at(out, 450 + 12, 300), Known::undecided);
    QCOMPARE(at(out, 450 + 14, 300), Known::undecided);  // with its rim
    QCOMPARE(at(out, 450 + 18, 300), Known::subject);
    QCOMPARE(at(out, 720, 300), Known::subject);  // too far in to be between strands
    QCOMPARE(at(out, 450, 500), Known::subject);
    QCOMPARE(at(out, 200, 300), Known::background);
  }
  void aSubjectOfThePapersColourIsLeftAlone() {
    const auto b = band();
    QCOMPARE(test::must(openPockets(b, pocketPicture(230, 232, 228, 6), 100, test::here(), {})).stamp(), b.stamp());
  }
  void anUnevenBackgroundSaysNothing() {
    const auto b = band();
    QCOMPARE(test::must(openPockets(b, pocketPicture(70, 60, 60, 200), 100, test::here(), {})).stamp(), b.stamp());
  }
  void stoppingStops() {
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(openPockets(band(), pocketPicture(70, 60, 60, 6), 100, test::here(), base::Progress(stop.get_token())).error().code,
             base::Code::cancelled);
  }
};
HSEAM_TEST(PocketsTest);
#include "pockets_test.moc"
