// Bent words, against the straight ones carried through the bend's own definition.

#include "core/scene/set_words.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/path/path.h"
#include "core/scene/layer_record.h"
#include "core/scene/made_record.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

constexpr base::Size kWordsCanvas{900, 400};

Layer fillLayer() {
  Layer l;
  l.id = {1};
  l.name = "words";
  l.content = FillContent{SolidFill{}, nullptr};
  return l;
}
text::Lettering title(const std::string& words) {
  text::Lettering t;
  t.words = words;
  t.sizePx = 120;
  t.at = {450, 200};
  return t;
}

}  // namespace

class SetWordsTest : public QObject {
  Q_OBJECT
 private slots:
  void cornersCarryTheLetters() {
    const Layer l = fillLayer();
    const auto words = title("HIH");
    const base::Rect box = test::must(boxOf(words));
    const double w = box.width, h = box.height;
    // The right side half as high, about its middle.
    Warp warp;
    warp.corners = {{0, 0}, {w, h / 4}, {w, 3 * h / 4}, {0, h}};
    const auto straight = test::must(setWords(l, words, nullptr, kWordsCanvas, test::memory()));
    const auto bent = test::must(setWords(l, words, std::make_shared<const Bend>(Bend{box, warp}), kWordsCanvas, test::memory()));
    const auto heights = [&](const path::Path& p, double from, double to) {
      double top = 1e9, bottom = -1e9;
      for (const path::Outline& o : p.outlines) {
        for (const base::Point& q : path::flattened(o, 0.05)) {
          if (q.x < from || q.x > to) continue;
          top = std::min(top, q.y), bottom = std::max(bottom, q.y);
        }
      }
      return bottom - top;
    };
    const double left = heights(*bent.edit.mask.path, box.x - 1, box.x + 2),
                 right = heights(*bent.edit.mask.path, box.right() - 2, box.right() + 1),
                 before = heights(*straight.edit.mask.path, box.x - 1, box.x + 2);
    QVERIFY2(std::abs(left - before) < 0.02 * before && std::abs(right - before / 2) < 0.02 * before,
             qPrintable(QStringLiteral("%1 %2 of %3").arg(left).arg(right).arg(before)));
    // Every corner of a letter is where the bend says.
    for (const path::Outline& o : straight.edit.mask.path->outlines) {
      for (const path::Node& n : o.nodes) {
        const base::Point q = mapped(warp, {box.width, box.height}, {n.at.x - box.x, n.at.y - box.y});
        double nearest = 1e9;
        for (const path::Outline& b : bent.edit.mask.path->outlines) {
          for (const path::Node& m : b.nodes) nearest = std::min(nearest, std::hypot(m.at.x - q.x - box.x, m.at.y - q.y - box.y));
        }
        QVERIFY2(nearest < 1e-6, qPrintable(QString::number(nearest)));
      }
    }
    QVERIFY(validFill(bent.edit.fill).ok());
  }
  void otherWordsTakeTheBendWithThem() {
    const Layer l = fillLayer();
    const base::Rect box = test::must(boxOf(title("HI")));
    Warp warp;
    warp.corners = {{0, 0}, {double(box.width), -40}, {double(box.width), double(box.height)}, {0, double(box.height)}};
    Layer bent = l;
    bent.content =
        test::must(setWords(l, title("HI"), std::make_shared<const Bend>(Bend{box, warp}), kWordsCanvas, test::memory()))
            .edit.fill;
    const auto longer = test::must(setWords(bent, title("HIHIHI"), bent.fill()->bend, kWordsCanvas, test::memory()));
    const Bend& now = *longer.edit.fill.bend;
    QVERIFY(now.box == test::must(boxOf(title("HIHIHI"))) && now.box.width > 2 * box.width);
    QVERIFY(std::abs(now.warp.corners[1].x - now.box.width) < 1e-9);
    QVERIFY(std::abs(now.warp.corners[1].y + 40.0 * now.box.height / box.height) < 1e-9);
    // Back to straight.
    const auto straight = test::must(setWords(bent, title("HI"), nullptr, kWordsCanvas, test::memory()));
    QVERIFY(!straight.edit.fill.bend);
    QVERIFY(*straight.edit.mask.path ==
            *test::must(setWords(l, title("HI"), nullptr, kWordsCanvas, test::memory())).edit.mask.path);
  }
  void theBendIsKeptAndItsLayerIsAsLargeAsItsWords() {
    const base::Rect box = test::must(boxOf(title("HI")));
    Scene s;
    s.canvas = kWordsCanvas;
    Layer l = fillLayer();
    Warp warp;
    warp.tacks = {{{10, 10}, {10, 40}}};
    const auto set =
        test::must(setWords(l, title("HI"), std::make_shared<const Bend>(Bend{box, warp}), kWordsCanvas, test::memory()));
    l.content = set.edit.fill;
    l.mask = set.edit.mask;
    s = test::must(scene::apply(s, AddLayer{l, {}, -1}));
    const base::Rect at = boundsOf(s, *s.layers[0]);
    // One tack shifts all of it by 30 px.
    QVERIFY(std::abs(at.y - (box.y + 30)) <= 4 && std::abs(at.bottom() - (box.bottom() + 30)) <= 4 && at.width < box.width + 8);
    const FillContent back = test::must(fillFromJson(toJson(*s.layers[0]->fill())));
    QVERIFY(back.bend && *back.bend == *s.layers[0]->fill()->bend);
    // Pulled elsewhere: both places are painted anew.
    warp.tacks[0].to = {10, -60};
    const auto other =
        test::must(setWords(l, title("HI"), std::make_shared<const Bend>(Bend{box, warp}), kWordsCanvas, test::memory()));
    base::Rect all;
    for (const base::Rect& r : difference(s, test::must(scene::apply(s, other.edit)))) all = all.united(r);
    QVERIFY(all.y <= box.y - 68 && all.bottom() >= box.bottom() + 28);
  }
};

HSEAM_TEST(SetWordsTest);
#include "set_words_test.moc"
