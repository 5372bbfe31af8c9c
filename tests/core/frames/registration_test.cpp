#include "core/frames/registration.h"

#include <cmath>

#include "core/frames/light.h"
#include "test_main.h"
#include "truth/shown_place.h"

using namespace hseam;
using frames::Homography;

namespace {

constexpr base::Size kFrameSize{720, 540};

// A similarity about the middle.
Homography turned(double degrees, double scale, double dx, double dy) {
  const double t = degrees * M_PI / 180, c = scale * std::cos(t), s = scale * std::sin(t), x = kFrameSize.width / 2.0,
               y = kFrameSize.height / 2.0;
  return {{c, -s, x + dx - c * x + s * y, s, c, y + dy - s * x - c * y, 0, 0, 1}};
}

double cornerError(const Homography& a, const Homography& b) {
  double worst = 0;
  for (const base::Point p :
       {base::Point{0, 0}, base::Point{double(kFrameSize.width), 0}, base::Point{0, double(kFrameSize.height)},
        base::Point{double(kFrameSize.width), double(kFrameSize.height)}}) {
    const base::Point q = a.map(p), r = b.map(p);
    worst = std::max(worst, std::hypot(q.x - r.x, q.y - r.y));
  }
  return worst;
}

// A person, or a cart: something of even colour with stripes that has moved between the frames.
std::function<double(double, double, int)> standing(double x0, double y0, double w, double h, double light) {
  return [=](double x, double y, int c) {
    const double u = (x - x0) / w, v = (y - y0) / h;
    if (u * u + v * v > 1) return -1.0;
    return light * (0.7 + 0.3 * std::sin(0.5 * x + 0.3 * y + c));
  };
}

struct Set {
  test::ShownPlace place;
  image::TiledImage picture;
  frames::BaseFrame base;
};
// Made once.
const Set& frameSet() {
  static const Set made = [] {
    test::ShownPlace place(3, kFrameSize);
    image::TiledImage picture = place.frame(kFrameSize, {.before = standing(150, 300, 60, 150, 0.4)}, 103);
    frames::BaseFrame base = test::must(frames::BaseFrame::of(picture, test::here()));
    return Set{std::move(place), picture, std::move(base)};
  }();
  return made;
}

}  // namespace

class RegistrationTest : public QObject {
  Q_OBJECT
 private slots:
  void framesAreFoundToAFiftiethOfAPixel_data() {
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("stops");
    QTest::addColumn<double>("red");
    QTest::addColumn<double>("perspective");
    QTest::newRow("a shift") << 0.0 << 1.0 << 0.0 << 0.0 << 0.0;
    QTest::newRow("turned, a stop darker") << 1.1 << 1.0 << -1.0 << 0.2 << 0.0;
    QTest::newRow("nearer, brighter") << -0.4 << 1.012 << 0.6 << -0.2 << 0.0;
    QTest::newRow("seen aslant") << 0.5 << 0.99 << -0.5 << 0.1 << 1.2e-5;
  }
  void framesAreFoundToAFiftiethOfAPixel() {
    QFETCH(double, degrees);
    QFETCH(double, scale);
    QFETCH(double, stops);
    QFETCH(double, red);
    QFETCH(double, perspective);
    const Set& s = frameSet();
    Homography map = turned(degrees, scale, 5.3, -3.7);
    map.m[6] = perspective;
    map.m[7] = -perspective / 2;
    // A third of the frame is something else.
    const auto frame = s.place.frame(
        kFrameSize,
        {.toBase = map, .stops = stops, .redStops = red, .blueStops = -red, .before = standing(520, 260, 150, 240, 0.35)}, 9);
    const auto found = test::must(frames::registered(s.base, frame, test::here(), {}));
    QVERIFY2(found.use, found.reason.c_str());
    QCOMPARE(found.projective, perspective > 0);
    const double error = cornerError(found.toBase, map);
    QVERIFY2(error < 0.02, qPrintable(QString::number(error)));
    const auto light = test::must(frames::lightChange(s.picture, frame, found.toBase));
    QVERIFY(light.known);
    QVERIFY2(std::abs(light.gainStops - stops) < 0.02, qPrintable(QString::number(light.gainStops)));
    QVERIFY(std::abs(light.redStops - red) < 0.02 && std::abs(light.blueStops + red) < 0.02);
    frames::LightChange truth;
    truth.redStops = red;
    truth.blueStops = -red;
    QVERIFY(std::abs(light.mired() - truth.mired()) < 3);
  }
  void aFrameOnTheBaseLooksLikeTheBase() {
    const Set& s = frameSet();
    const Homography map = turned(0.8, 1.01, -4.2, 6.1);
    const auto frame = s.place.frame(kFrameSize, {.toBase = map, .stops = -0.8, .redStops = 0.2}, 5);
    const auto found = test::must(frames::registered(s.base, frame, test::here(), {}));
    const auto light = test::must(frames::lightChange(s.picture, frame, found.toBase));
    const frames::Frame laid(frame, found.toBase, kFrameSize, light);
    const auto a = test::must(laid.read(0, {300, 60, 380, 400}));
    const auto b = test::must(image::readFloat(s.picture, 0, {300, 60, 380, 400}));
    double sum = 0;
    for (std::size_t i = 0; i < b.pixels(); ++i) {
      for (std::size_t c = 0; c < 3; ++c) sum += std::abs(double(a.samples()[i * 4 + c]) - double(b.samples()[i * 3 + c]));
    }
    // The noise of both is 0.0045 in the mean; a shift of a tenth of a pixel alone would add 0.004.
    const double mean = sum / double(b.pixels() * 3);
    QVERIFY2(mean < 0.0075, qPrintable(QString::number(mean)));
    // Nothing is made up where the frame does not reach.
    const auto corner = test::must(laid.read(0, {0, 0, 1, 1}));
    const base::Point there = map.inverse().map({0.5, 0.5});
    QCOMPARE(corner.at(0, 0)[3] > 0, there.x >= 0 && there.y >= 0);
  }
  void whereLightWasCutOffIsToldBesideThePicture() {
    const auto half = test::picture(300, 200, 3, [](int x, int, int) { return x < 150 ? 255.0 : 90.0; });
    const frames::Frame laid(half, {}, {300, 200}, {});
    const auto read = test::must(laid.read(0, {0, 0, 300, 200}));
    const auto cut = test::must(laid.cutOff(0, {0, 0, 300, 200}));
    for (const int x : {20, 280}) {
      QCOMPARE(read.at(x, 100)[3], 1.f);  // what is too light covers as well as the rest
      QCOMPARE(*cut.at(x, 100) > 127, x < 150);
    }
  }
  void anotherPlaceIsLeftOut() {
    const Set& s = frameSet();
    const auto frame = test::ShownPlace(77, kFrameSize).frame(kFrameSize, {}, 4);
    const auto found = test::must(frames::registered(s.base, frame, test::here(), {}));
    QVERIFY(!found.use && !found.reason.empty());
  }
  void aMovedCameraIsToldByItsParallax_data() {
    QTest::addColumn<double>("shift");
    QTest::newRow("a little") << 4.0;
    QTest::newRow("much") << 14.0;
  }
  void aMovedCameraIsToldByItsParallax() {
    QFETCH(double, shift);
    const Set& s = frameSet();
    // The nearer half is shifted against the farther one: hundreds of places agree all the same.
    const auto frame = s.place.frame(kFrameSize,
                                     {.seenFrom =
                                          [=](base::Point p) {
                                            return p.y > 290 ? base::Point{p.x + shift, p.y} : p;
                                          }},
                                     4);
    const auto found = test::must(frames::registered(s.base, frame, test::here(), {}));
    QVERIFY2(found.parallaxShare > 0.3, qPrintable(QStringLiteral("%1, residual %2, share %3, landmarks %4, projective %5")
                                                       .arg(found.parallaxShare)
                                                       .arg(found.residualPx)
                                                       .arg(found.inlierShare)
                                                       .arg(found.landmarks.size())
                                                       .arg(found.projective)));
    QVERIFY(!found.use);
  }
  void whatHasNothingToRecogniseIsAnError() {
    const auto even = test::picture(300, 200, 3, [](int, int, int) { return 120.0; });
    const auto base = frames::BaseFrame::of(even, test::here());
    QVERIFY(!base.ok() && base.error().code == base::Code::invalid);
    const Set& s = frameSet();
    const auto found = test::must(frames::registered(s.base, even, test::here(), {}));
    QVERIFY(!found.use);
  }
};
HSEAM_TEST(RegistrationTest);
#include "registration_test.moc"
