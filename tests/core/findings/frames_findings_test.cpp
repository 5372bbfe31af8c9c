// What gives a picture away that is set together from frames.

#include "../render/scenes.h"
#include "core/sets/assembled.h"
#include "judged.h"
#include "truth/shown_place.h"

using namespace hseam;
using namespace hseam::test;
using findings::KindId;

class FramesFindingsTest : public QObject {
  Q_OBJECT

  static constexpr base::Size kSize{400, 300};
  // Left half of one frame, right half of another that lies dx px off and was told to lie where it should.
  static scene::Scene halves(double dx, double residual) {
    const ShownPlace place(9, kSize);
    ShownPlace::Shot moved;
    moved.toBase.m = {1, 0, dx, 0, 1, 0, 0, 0, 1};
    scene::FrameSet set;
    set.frames.push_back({"a.jpg", place.frame(kSize, {}, 1)});
    set.frames.push_back({"b.jpg", place.frame(kSize, moved, 2)});
    set.frames[1].residualPx = residual;
    set.picks = set.labels =
        test::picture(kSize.width, kSize.height, 1, [](int x, int, int) { return x < kSize.width / 2 ? 1.0 : 2.0; });
    sets::LaidFrames laid;
    const auto made = must(sets::assembled(set, laid, here(), {}));
    scene::Scene s;
    s.canvas = kSize;
    scene::Layer l = pictureLayer(1, made.picture);
    std::get<scene::PictureContent>(l.content).frames = std::make_shared<const scene::FrameSet>(std::move(set));
    s.layers = {ref(std::move(l))};
    return s;
  }

 private slots:
  void whatMeetsIsQuiet() {
    const auto report = judged(halves(0, 0.02));
    QVERIFY(report.findings.empty());
    QVERIFY(reading(report, "frame_fit").available && reading(report, "broken_lines").available);
    QVERIFY(reading(report, "broken_lines").reading < 0.5);
  }
  void brokenLinesAreToldWithTheirPx() {
    const auto report = judged(halves(2, 0.02));
    const findings::Verdict& v = reading(report, "broken_lines");
    QVERIFY2(v.out() && std::abs(v.reading - 2) < 0.4, qPrintable(QString::number(v.reading)));
    QVERIFY(v.region.x <= 200 && v.region.right() >= 200 && !v.sentence.empty());
    QVERIFY(report.tightness < 100);
  }
  void aFrameThatLiesOffIsLeftOut() {
    const scene::Scene s = halves(2, 1.2);
    const auto report = judged(s);
    const findings::Verdict& v = reading(report, "frame_fit");
    QVERIFY(v.out() && v.sentence.text().find("b.jpg") != std::string::npos);
    const scene::Scene then = mended(s, v);
    const auto& set = *then.layers[0]->picture()->frames;
    QVERIFY(!set.frames[1].used);
    // All of it comes from the base now.
    QVERIFY(image::isUniformIn(set.labels, base::Rect::of(kSize), 1));
    const auto after = judged(then);
    QVERIFY(!reading(after, "frame_fit").available && !reading(after, "broken_lines").out());
  }
  void whatIsCutThroughComesFromOneFrame() {
    // A post that stands in the second frame alone, right on the seam.
    const ShownPlace place(9, kSize);
    const auto post = [](double x, double y, int c) {
      return std::abs(x - 200) < 18 && y > 90 && y < 230 ? (c == 0 ? 0.6 : 0.02 + 0.3 * (int(y / 12) % 2)) : -1.0;
    };
    scene::Scene s = halves(0, 0);
    scene::Layer l = *s.layers[0];
    auto& p = std::get<scene::PictureContent>(l.content);
    scene::FrameSet set = *p.frames;
    set.frames[1].picture = place.frame(kSize, {.before = post}, 2);
    sets::LaidFrames laid;
    const auto made = must(sets::assembled(set, laid, here(), {}));
    p.source = made.picture;
    p.frames = std::make_shared<const scene::FrameSet>(set);
    s.layers = {std::make_shared<const scene::Layer>(l)};
    const auto report = judged(s);
    const findings::Verdict& v = reading(report, "cut_things");
    QVERIFY2(v.out(), qPrintable(QString::number(v.reading)));
    QCOMPARE(v.remedies.size(), std::size_t(2));
    const int labelBefore = *must(image::read8(p.frames->labels, 0, {190, 110, 1, 1})).at(0, 0);
    QCOMPARE(labelBefore, 1);
    const auto& second = std::find_if(v.remedies.begin(), v.remedies.end(),
                                      [](const auto& r) { return r.label.text() == "Take that place from frame 2"; });
    QVERIFY(second != v.remedies.end());
    const scene::Scene then = must(scene::apply(s, must(second->make(s, here()))));
    QVERIFY(then.layers[0]->picture()->frames->picks.stamp() != set.picks.stamp());
  }
  void aPictureWithoutFramesHasNoSuchReading() {
    scene::Scene s = halves(0, 0);
    scene::Layer l = *s.layers[0];
    std::get<scene::PictureContent>(l.content).frames = nullptr;
    s.layers = {std::make_shared<const scene::Layer>(std::move(l))};
    for (const auto& v : judged(s).readings) QVERIFY(v.kind != KindId::frameFit && v.kind != KindId::brokenLines);
  }
};

HSEAM_TEST(FramesFindingsTest);
#include "frames_findings_test.moc"
