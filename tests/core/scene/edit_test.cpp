#include "core/scene/edit.h"

#include <nlohmann/json.hpp>

#include "core/scene/adjustment_record.h"
#include "core/scene/history.h"
#include "core/scene/layer_record.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

image::TiledImage flatPicture(int w, int h, int channels = 3) {
  return test::picture(w, h, channels, [](int, int, int) { return 90; });
}

Layer pictureLayer(std::uint64_t id, const std::string& name, int w = 40, int h = 30) {
  Layer l;
  l.id = {id};
  l.name = name;
  PictureContent p;
  p.source = flatPicture(w, h);
  l.content = std::move(p);
  return l;
}
Layer curveLayer(std::uint64_t id) {
  Layer l;
  l.id = {id};
  l.name = "curve";
  l.content = AdjustmentContent{Curves{}};
  return l;
}

Scene must(base::Result<Scene> r) {
  return test::must(std::move(r));
}

Scene threeLayers() {
  Scene s;
  s.canvas = {100, 80};
  for (std::uint64_t i = 1; i <= 3; ++i)
    s = must(scene::apply(s, AddLayer{pictureLayer(i, std::string(1, char('a' + i - 1))), {}, -1}));
  return s;
}

QString order(const Scene& s) {
  QString names;
  for (const auto& l : allLayers(s)) names += QString::fromStdString(l->name);
  return names;
}

}  // namespace

class EditTest : public QObject {
  Q_OBJECT
 private slots:
  void addingAndMovingKeepOrder() {
    Scene s = threeLayers();
    QCOMPARE(order(s), QStringLiteral("abc"));
    QCOMPARE(order(must(scene::apply(s, MoveLayer{{1}, {}, 2}))), QStringLiteral("bca"));
    QCOMPARE(order(must(scene::apply(s, MoveLayer{{3}, {}, 0}))), QStringLiteral("cab"));
    QCOMPARE(order(must(scene::apply(s, AddLayer{pictureLayer(9, "x"), {}, 1}))), QStringLiteral("axbc"));
    QCOMPARE(order(must(scene::apply(s, RemoveLayer{{2}}))), QStringLiteral("ac"));
  }
  void theOldSceneStaysAsItWas() {
    const Scene s = threeLayers();
    const LayerRef b = s.layers[1];
    const Scene next = must(scene::apply(s, SetOpacity{{2}, 0.25}));
    QCOMPARE(s.layers[1], b);
    QCOMPARE(s.layers[1]->opacity, 1.0);
    QCOMPARE(next.layers[1]->opacity, 0.25);
    QCOMPARE(next.layers[0], s.layers[0]);  // what did not change is shared
    QCOMPARE(next.layers[2], s.layers[2]);
  }
  void everyValueCanBeSet() {
    Scene s = threeLayers();
    s = must(scene::apply(s, AddLayer{curveLayer(4), {}, -1}));
    const auto mask = image::uniformCoverage({40, 30}, 128, test::memory());
    const Placement place{10, 20, 0.5, 45, true, false};
    const Edit edits[] = {SetName{{1}, "pier"},
                          SetHidden{{1}, true},
                          SetMode{{1}, BlendMode::screen},
                          SetClip{{2}, true},
                          SetPlacement{{1}, place},
                          SetMask{{1}, mask, "painted"},
                          SetMaskEnabled{{1}, false},
                          SetAdjustment{{4}, Levels{0.1, 0.9, 1.2, 0, 1}},
                          SetSelection{{1}, mask, "guessed"},
                          SetHints{{1}, mask},
                          SetBand{{1}, mask, "{}"},
                          SetCut{{2}, mask, flatPicture(40, 30), mask, "{}"},
                          SetEdgePlan{{2}, "{\"specksPx\":4}", mask, mask, "specks"},
                          SetUseClean{{2}, false},
                          SetMixing{scene::Mixing::encoded},
                          SetCanvas{{200, 100}}};
    for (const Edit& e : edits) {
      QVERIFY2(!describe(s, e).empty(), editKind(e));
      s = must(scene::apply(s, e));
    }
    const Layer& a = *findLayer(s, {1});
    QCOMPARE(QString::fromStdString(a.name), QStringLiteral("pier"));
    QVERIFY(a.hidden && a.mode == BlendMode::screen && a.picture()->placement == place && !a.mask.enabled);
    QCOMPARE(a.mask.coverage.stamp(), mask.stamp());
    QCOMPARE(a.picture()->cutout->band.stamp(), mask.stamp());
    const Layer& b = *findLayer(s, {2});
    QVERIFY(b.clip && !b.picture()->cutout->useClean && b.mask.enabled);
    QCOMPARE(b.picture()->cutout->outcome().stamp(), mask.stamp());
    QCOMPARE(b.picture()->cutout->edgePlan, std::string("{\"specksPx\":4}"));
    QCOMPARE(b.picture()->shown().stamp(), b.picture()->source.stamp());
    QVERIFY(std::get<Levels>(findLayer(s, {4})->adjustment()->adjustment).middle == 1.2);
    QVERIFY(s.mixing == scene::Mixing::encoded && s.canvas == base::Size({200, 100}));
  }
  void wrongEditsAreRefusedWithAReason_data() {
    QTest::addColumn<int>("which");
    QTest::addColumn<int>("code");
    const int codes[] = {int(base::Code::notFound), int(base::Code::notFound),      int(base::Code::conflict),
                         int(base::Code::invalid),  int(base::Code::invalid),       int(base::Code::invalid),
                         int(base::Code::invalid),  int(base::Code::invalid),       int(base::Code::invalid),
                         int(base::Code::invalid),  int(base::Code::limitExceeded), int(base::Code::invalid)};
    for (int i = 0; i < int(std::size(codes)); ++i) QTest::addRow("%d", i) << i << codes[i];
  }
  void wrongEditsAreRefusedWithAReason() {
    QFETCH(int, which);
    QFETCH(int, code);
    const Scene s = must(scene::apply(threeLayers(), AddLayer{curveLayer(4), {}, -1}));
    const auto wrongSize = image::uniformCoverage({41, 30}, 1, test::memory());
    const Edit edits[] = {SetOpacity{{77}, 0.5},
                          RemoveLayer{{77}},
                          AddLayer{pictureLayer(2, "twice"), {}, -1},
                          SetOpacity{{1}, 1.5},
                          SetOpacity{{1}, std::nan("")},
                          SetMask{{1}, wrongSize, ""},
                          SetMask{{1}, flatPicture(40, 30), ""},  // not grey
                          SetPlacement{{1}, {0, 0, 0, 0, false, false}},
                          SetPlacement{{4}, {}},  // not a picture
                          SetAdjustment{{1}, Curves{}},
                          SetCanvas{{0, 10}},
                          SetAdjustment{{4}, Curves{{{0.5, 0}, {0.2, 1}}, {}, {}, {}}}};
    const auto r = scene::apply(s, edits[which]);
    QVERIFY(!r.ok());
    QCOMPARE(int(r.error().code), code);
    QVERIFY(!r.error().detail.empty());
  }
  void aCanvasWithMasksKeepsItsSize() {
    Scene s = must(scene::apply(threeLayers(), AddLayer{curveLayer(4), {}, -1}));
    s = must(scene::apply(s, SetMask{{4}, image::uniformCoverage({100, 80}, 9, test::memory()), "painted"}));
    QCOMPARE(scene::apply(s, SetCanvas{{120, 80}}).error().code, base::Code::conflict);
  }
  void groupsTakeNeighboursAndGiveThemBack() {
    const Scene s = threeLayers();
    const Scene grouped = must(scene::apply(s, GroupLayers{{{3}, {2}}, {9}, "pair"}));
    QCOMPARE(order(grouped), QStringLiteral("apairbc"));
    QCOMPARE(positionOf(grouped, {3})->parent, LayerId{9});
    QCOMPARE(positionOf(grouped, {3})->index, 1);
    QCOMPARE(order(must(scene::apply(grouped, Ungroup{{9}}))), QStringLiteral("abc"));
    QCOMPARE(scene::apply(grouped, MoveLayer{{9}, {9}, 0}).error().code, base::Code::conflict);
    QCOMPARE(order(must(scene::apply(grouped, MoveLayer{{1}, {9}, 0}))), QStringLiteral("pairabc"));
    QCOMPARE(scene::apply(grouped, GroupLayers{{{1}, {2}}, {10}, ""}).error().code, base::Code::invalid);  // not side by side
    // An edit deep inside shares everything beside its own path.
    const Scene deep = must(scene::apply(grouped, SetOpacity{{2}, 0.5}));
    QCOMPARE(deep.layers[0], grouped.layers[0]);
    QVERIFY(deep.layers[1] != grouped.layers[1]);
    QCOMPARE(deep.layers[1]->group()->layers[1], grouped.layers[1]->group()->layers[1]);
  }
  void copiesHaveIdsOfTheirOwn() {
    const Scene grouped = must(scene::apply(threeLayers(), GroupLayers{{{2}, {3}}, {9}, "pair"}));
    const Scene twice = must(scene::apply(grouped, AddLayer{duplicate(grouped, *findLayer(grouped, {9})), {}, -1}));
    QCOMPARE(allLayers(twice).size(), std::size_t(7));
    QCOMPARE(QString::fromStdString(twice.layers.back()->name), QStringLiteral("pair copy"));
    test::must(validate(twice));
  }
  void historyDropsWhatCouldBeRedone() {
    History h({Scene{}, "begin"});
    h.push({Scene{}, "one"});
    h.push({Scene{}, "two"});
    hseam::test::must(h.goTo(1));
    QVERIFY(h.canRedo());
    h.push({Scene{}, "other"});
    QCOMPARE(h.count(), 3);
    QCOMPARE(QString::fromStdString(h.step(2).label), QStringLiteral("other"));
    QVERIFY(!h.canRedo() && h.canUndo());
  }
  void aPathBoundsWhatIsPaintedAndBothStay() {
    const auto box = [](double l, double t, double r, double b) {
      path::Outline o;
      o.closed = true;
      o.nodes = {path::corner({l, t}), path::corner({r, t}), path::corner({r, b}), path::corner({l, b})};
      return std::make_shared<const path::Path>(path::Path{{o}});
    };
    const auto at = [](const Scene& s, int x, int y) {
      return int(*test::must(image::read8(findLayer(s, {1})->mask.coverage, 0, {x, y, 1, 1})).at(0, 0));
    };
    const auto painted = test::picture(40, 30, 1, [](int x, int, int) { return x < 20 ? 128 : 255; });
    Scene s = must(scene::apply(threeLayers(), SetMask{{1}, painted, "painted"}));
    s = must(scene::apply(s, SetPath{{1}, box(5, 5, 30, 20.5), true, "drawn"}));
    QCOMPARE(at(s, 10, 10), 128);
    QCOMPARE(at(s, 25, 10), 255);
    QCOMPARE(at(s, 35, 10), 0);
    QCOMPARE(at(s, 25, 20), 128);  // half a pixel of it
    // Painting goes on under the path, and the path goes on being edited.
    s = must(scene::apply(s, SetMask{{1}, image::uniformCoverage({40, 30}, 200, test::memory()), "painted"}));
    QCOMPARE(at(s, 10, 10), 200);
    QCOMPARE(at(s, 35, 10), 0);
    s = must(scene::apply(s, SetPath{{1}, box(0, 0, 40, 30), true, "moved"}));
    QCOMPARE(at(s, 35, 10), 200);
    // Kept and read back.
    std::vector<image::TiledImage> images;
    const Layer& l = *findLayer(s, {1});
    const auto record = layerRecord(
        l,
        [&](const image::TiledImage& i) {
          images.push_back(i);
          return std::to_string(images.size() - 1);
        },
        [](const LayerRef&) { return std::string(); });
    const Layer back = test::must(layerFromRecord(
        record, [&](const std::string& n) -> base::Result<image::TiledImage> { return images[std::size_t(std::stoi(n))]; },
        [](const std::string&) -> base::Result<LayerRef> {
          return base::Error{base::Code::corrupt, "", "none"};
        }));
    QVERIFY(back.mask.pathActs && *back.mask.path == *l.mask.path);
    QVERIFY(back.mask.painted.stamp() == l.mask.painted.stamp());
    // Without it the painted part is the mask again.
    s = must(scene::apply(s, SetPath{{1}, nullptr, false, ""}));
    QCOMPARE(at(s, 35, 10), 200);
    QVERIFY(!findLayer(s, {1})->mask.pathActs);
    path::Path wrong = *box(0, 0, 1, 1);
    wrong.outlines[0].nodes[0].at.x = std::nan("");
    QVERIFY(!scene::apply(s, SetPath{{1}, std::make_shared<const path::Path>(wrong), true, ""}).ok());
  }
};
HSEAM_TEST(EditTest);

class LayerRecordTest : public QObject {
  Q_OBJECT
 private slots:
  void everythingComesBack() {
    Layer l = pictureLayer(7, "naïve \"name\"");
    auto& p = std::get<PictureContent>(l.content);
    p.placement = {1.25, -3, 0.333333333333333, 12.5, false, true};
    p.sourceName = "x.jpg";
    p.sourceHash = "ab12";
    p.cutout.edit().band = image::uniformCoverage({40, 30}, 128, test::memory());
    p.cutout.edit().recipe = "{\"width\":3}";
    p.cutout.edit().useClean = false;
    p.reference = image::uniformCoverage({100, 80}, 255, test::memory());
    l.opacity = 1.0 / 3;
    l.mode = BlendMode::luminosity;
    l.clip = l.hidden = true;
    l.mask.coverage = image::uniformCoverage({40, 30}, 5, test::memory());
    l.mask.enabled = false;
    std::vector<image::TiledImage> images;
    const auto record = layerRecord(
        l,
        [&](const image::TiledImage& i) {
          images.push_back(i);
          return std::to_string(images.size() - 1);
        },
        [](const LayerRef&) { return std::string(); });
    const Layer back = test::must(layerFromRecord(
        record, [&](const std::string& n) -> base::Result<image::TiledImage> { return images[std::stoul(n)]; },
        [](const std::string&) -> base::Result<LayerRef> { return LayerRef(); }));
    QVERIFY(back.id == l.id && back.name == l.name && back.opacity == l.opacity && back.mode == l.mode && back.clip &&
            back.hidden && !back.mask.enabled);
    QCOMPARE(back.mask.coverage.stamp(), l.mask.coverage.stamp());
    const auto& q = *back.picture();
    QVERIFY(q.placement == p.placement && q.sourceName == p.sourceName && q.sourceHash == p.sourceHash &&
            q.cutout->recipe == p.cutout->recipe && !q.cutout->useClean);
    QCOMPARE(q.cutout->band.stamp(), p.cutout->band.stamp());
    QVERIFY(q.cutout->alpha.isNull());
    QCOMPARE(q.reference.stamp(), p.reference.stamp());
  }
  void adjustmentsComeBack() {
    const Adjustment all[] = {Curves{{{0, 0.1}, {0.5, 0.4}, {1, 1}}, {}, {{0, 0}, {1, 0.7}}, {}, {{0, 0.2}, {1, 0.9}}},
                              Levels{0.1, 0.8, 1.7, 0.05, 0.95}, ColourBalance{{0.1, -0.2}, {0.3, 0.4}, {-0.5, 0.6}}};
    for (const Adjustment& a : all) QVERIFY(test::must(adjustmentFromJson(toJson(a))) == a);
  }
  void nonsenseIsCorrupt() {
    const auto none = [](const std::string&) -> base::Result<image::TiledImage> {
      return base::Error{base::Code::corrupt, "", "no"};
    };
    const auto noLayer = [](const std::string&) -> base::Result<LayerRef> { return base::Error{base::Code::corrupt, "", "no"}; };
    for (const char* text : {"", "{", "[]", "{\"id\":1}", "{\"id\":\"x\"}", "null"})
      QCOMPARE(layerFromRecord(text, none, noLayer).error().code, base::Code::corrupt);
  }
};
HSEAM_TEST(LayerRecordTest);
#include "edit_test.moc"
