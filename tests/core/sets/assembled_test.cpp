#include "core/sets/assembled.h"

#include <cmath>

#include "core/scene/edit.h"
#include "core/store/project_file.h"
#include "test_main.h"
#include "truth/shown_place.h"

using namespace hseam;

namespace {

constexpr base::Size kSetSize{480, 360};

// A place with a disc of one colour somewhere in it, seen from a camera that has moved a little.
image::TiledImage discFrame(const test::ShownPlace& place, double cx, double cy, const frames::Homography& toBase, double stops,
                            std::uint64_t seed) {
  return place.frame(kSetSize,
                     {.toBase = toBase,
                      .stops = stops,
                      .before =
                          [=](double x, double y, int c) {
                            return std::hypot(x - cx, y - cy) < 34 ? std::array{0.5, 0.08, 0.05}[std::size_t(c)] : -1.0;
                          }},
                     seed);
}
frames::Homography shifted(double dx, double dy) {
  return {{1, 0, dx, 0, 1, dy, 0, 0, 1}};
}

}  // namespace

class AssembledTest : public QObject {
  Q_OBJECT
  const test::ShownPlace place_{11, kSetSize};
  scene::FrameSet made() {
    scene::FrameSet set;
    const auto base = discFrame(place_, 100, 200, {}, 0, 1);
    const auto prepared = test::must(frames::BaseFrame::of(base, test::here()));
    set.frames.push_back({"a.jpg", base});
    set.frames.push_back(
        test::must(sets::frameOn(prepared, "b.jpg", discFrame(place_, 240, 180, shifted(2.25, -1.5), 0.5, 2), test::here(), {})));
    set.frames.push_back(test::must(
        sets::frameOn(prepared, "c.jpg", discFrame(place_, 390, 210, shifted(-3.5, 0.75), -0.4, 3), test::here(), {})));
    return set;
  }
  static bool red(const image::TiledImage& picture, double x, double y) {
    const auto px = test::must(image::readFloat(picture, 0, {int(x), int(y), 1, 1}));
    return px.at(0, 0)[0] > 2 * px.at(0, 0)[1];
  }
  static image::TiledImage picksAt(const std::vector<std::array<int, 3>>& dots) {
    image::Raster<std::uint8_t> picks(kSetSize.width, kSetSize.height, 1, 0);
    for (const auto& [x, y, k] : dots) {
      for (int v = -6; v <= 6; ++v) {
        for (int u = -6; u <= 6; ++u) *picks.at(x + u, y + v) = std::uint8_t(k);
      }
    }
    return test::must(image::tiledFromRaster(picks, image::PixelFormat::grey8, test::memory(), test::here()));
  }

 private slots:
  void framesTellWhereTheyLie() {
    const scene::FrameSet set = made();
    for (const auto& [k, dx, dy, stops] : {std::tuple(1, 2.25, -1.5, 0.5), {2, -3.5, 0.75, -0.4}}) {
      const scene::SetFrame& f = set.frames[std::size_t(k)];
      QVERIFY2(f.used, f.unfit.c_str());
      const base::Point at = frames::Homography{f.toBase}.map({200, 150});
      QVERIFY(std::hypot(at.x - 200 - dx, at.y - 150 - dy) < 0.05);
      QVERIFY2(std::abs(f.gainStops - stops) < 0.02, qPrintable(QString::number(f.gainStops)));
    }
    const auto prepared = test::must(frames::BaseFrame::of(set.frames[0].picture, test::here()));
    const test::ShownPlace elsewhere(99, kSetSize);
    const auto foreign = test::must(sets::frameOn(prepared, "d.jpg", elsewhere.frame(kSetSize, {}, 5), test::here(), {}));
    QVERIFY(!foreign.used && !foreign.unfit.empty());
  }
  void whatIsPickedIsThereAndNobodyElse() {
    scene::FrameSet set = made();
    sets::LaidFrames laid;
    set.picks = picksAt({{240 + 2, 180 - 2, 2}, {390 - 3, 210, 3}});
    const auto both = test::must(sets::assembled(set, laid, test::here(), {}));
    QCOMPARE(both.picture.format(), set.frames[0].picture.format());
    QVERIFY(red(both.picture, 242, 178) && red(both.picture, 386, 210) && red(both.picture, 262, 185));
    QVERIFY(red(both.picture, 100, 200));  // the base's own stays
    // Unused frames give nothing, whatever was picked of them.
    set.frames[2].used = false;
    set.picks = picksAt({{242, 178, 2}});
    const auto one = test::must(sets::assembled(set, laid, test::here(), {}));
    QVERIFY(red(one.picture, 242, 178) && !red(one.picture, 386, 210));
  }
  void anotherBase() {
    scene::FrameSet set = made();
    set.picks = picksAt({{387, 210, 3}});
    const auto turned = test::must(sets::withBase(set, 1, test::here(), {}));
    QCOMPARE(turned.frames[0].name, std::string("b.jpg"));
    QCOMPARE(turned.frames[1].name, std::string("a.jpg"));
    const base::Point at = frames::Homography{turned.frames[1].toBase}.map({200, 150});
    QVERIFY(std::hypot(at.x - 200 + 2.25, at.y - 150 - 1.5) < 0.05);
    // The pick is still of c.jpg, where c's disc lies on the new base.
    const auto picks = test::must(image::read8(turned.picks, 0, base::Rect::of(kSetSize)));
    QCOMPARE(int(*picks.at(387 - 2, 210 + 1)), 3);
    sets::LaidFrames laid;
    QVERIFY(red(test::must(sets::assembled(turned, laid, test::here(), {})).picture, 385, 211));
    QCOMPARE(sets::withBase(set, 7, test::here(), {}).error().code, base::Code::invalid);
  }
  void aFrameGoesAndItsPicksWithIt() {
    scene::FrameSet set = made();
    set.picks = picksAt({{242, 178, 2}, {387, 210, 3}});
    const auto less = test::must(sets::without(set, 1, test::here()));
    QVERIFY(less.has_value());
    QCOMPARE(less->frames.size(), std::size_t(2));
    const auto picks = test::must(image::read8(less->picks, 0, base::Rect::of(kSetSize)));
    QCOMPARE(int(*picks.at(242, 178)), 0);
    QCOMPARE(int(*picks.at(387, 210)), 2);
    QVERIFY(!test::must(sets::without(*less, 1, test::here())).has_value());
  }
  void aProjectKeepsThem() {
    const QTemporaryDir dir;
    const std::string path = dir.filePath(QStringLiteral("set.hseam")).toStdString();
    scene::FrameSet set = made();
    set.picks = picksAt({{242, 178, 2}});
    set.frames[1].strength = 0.75;
    set.frames[1].tint = {1.25, 1, 0.5};
    set.frames[2].used = false;
    sets::LaidFrames laid;
    const auto assembled = test::must(sets::assembled(set, laid, test::here(), {}));
    set.labels = assembled.labels;
    scene::Scene s;
    s.canvas = kSetSize;
    scene::Layer l;
    l.id = {1};
    l.name = "stage";
    scene::PictureContent p;
    p.source = set.frames[0].picture;
    l.content = p;
    s.layers.push_back(std::make_shared<const scene::Layer>(l));
    const auto shared = std::make_shared<const scene::FrameSet>(set);
    s = test::must(scene::apply(s, scene::SetFrames{{1}, shared, assembled.picture, "picked"}));
    test::must(test::must(store::ProjectFile::create(path, s, "new", test::memory(), test::here())).file->close());
    const auto opened = test::must(store::ProjectFile::open(path, test::memory(), test::here()));
    const scene::PictureContent& back = *opened.history.scene().layers[0]->picture();
    QVERIFY(back.frames);
    QCOMPARE(back.frames->frames.size(), std::size_t(3));
    QCOMPARE(back.frames->frames[1].toBase, set.frames[1].toBase);
    QCOMPARE(back.frames->frames[1].tint, set.frames[1].tint);
    QCOMPARE(back.frames->frames[1].strength, 0.75);
    QVERIFY(!back.frames->frames[2].used);
    const auto pixels = [](const image::TiledImage& i) {
      return test::must(image::readFloat(i, 0, base::Rect::of(i.size()))).samples();
    };
    QVERIFY(pixels(back.frames->frames[2].picture) == pixels(set.frames[2].picture));
    QVERIFY(pixels(back.frames->picks) == pixels(set.picks) && pixels(back.frames->labels) == pixels(set.labels));
    QVERIFY(pixels(back.source) == pixels(assembled.picture));
  }
  void setsThatMakeNoSenseAreRefused() {
    const scene::FrameSet good = made();
    const auto refused = [&](const std::function<void(scene::FrameSet&)>& spoil) {
      scene::FrameSet bad = good;
      spoil(bad);
      return !scene::validFrameSet(bad, kSetSize, "stage").ok();
    };
    QVERIFY(scene::validFrameSet(good, kSetSize, "stage").ok());
    QVERIFY(refused([](scene::FrameSet& s) { s.frames.resize(1); }));
    QVERIFY(refused([](scene::FrameSet& s) { s.frames[1].toBase[4] = std::nan(""); }));
    QVERIFY(refused([](scene::FrameSet& s) { s.frames[1].strength = -1; }));
    QVERIFY(refused([](scene::FrameSet& s) { s.picks = image::uniformCoverage({3, 3}, 0, test::memory()); }));
    QVERIFY(!scene::validFrameSet(good, {481, 360}, "stage").ok());
  }
};
HSEAM_TEST(AssembledTest);
#include "assembled_test.moc"
