#include "core/scene/look.h"

#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

class LookTest : public QObject {
  Q_OBJECT
 private slots:
  void aLookKeepsWhatAdjustsAndLeavesPlaces() {
    Layer curves;
    curves.id = {5};
    curves.opacity = 0.6;
    curves.mode = BlendMode::luminosity;
    curves.content = AdjustmentContent{Curves{{{0, 0.1}, {1, 0.9}}, {}, {}, {}}};
    curves.mask.numbers.lowest = 0.25;
    curves.mask.numbers.parts = {{TonesPart{0.5, 0.8, 0.05}, MaskPart::Joins::without, true, 0.7},
                                 {GradientPart{GradientFill::Form::round, {1, 2}, {3, 4}}},
                                 {ColourPart{{0.1, 0.2, 0.3}, 12, 8}, MaskPart::Joins::also}};
    curves.shows = {{0.1, 0.2, 0.7, 0.9}, {0, 0, 1, 1}};
    Layer grain;
    grain.content = AdjustmentContent{with(parametric(AdjustmentId::grain), "size", 1.5)};
    Layer picture;
    picture.content = GroupContent{};
    const auto ref = [](const Layer& l) { return std::make_shared<const Layer>(l); };
    const Look look = test::must(lookFromRecord(lookRecord("dusk", {ref(picture), ref(curves), ref(grain)})));
    QCOMPARE(look.name, std::string("dusk"));
    QCOMPARE(look.layers.size(), std::size_t(2));
    const Layer& l = look.layers[0];
    QVERIFY(l.adjustment()->adjustment == curves.adjustment()->adjustment);
    QVERIFY(l.opacity == 0.6 && l.mode == BlendMode::luminosity && l.shows == curves.shows);
    QCOMPARE(l.mask.numbers.parts.size(), std::size_t(2));
    QVERIFY(l.mask.numbers.parts[0] == curves.mask.numbers.parts[0] && l.mask.numbers.parts[1] == curves.mask.numbers.parts[2]);
    QVERIFY(l.mask.numbers.lowest == 0.25);
    QVERIFY(look.layers[1].adjustment()->adjustment == grain.adjustment()->adjustment);
  }
  void whatIsWrongIsRefused() {
    for (const char* text :
         {"", "{", "[]", "{\"look\":\"a\"}", "{\"look\":\"a\",\"layers\":[{}]}",
          "{\"look\":\"a\",\"layers\":[{\"opacity\":1,\"mode\":\"none such\",\"adjustment\":{\"exposure\":{}}}]}",
          "{\"look\":\"a\",\"layers\":[{\"opacity\":1,\"mode\":\"normal\",\"adjustment\":{\"exposure\":{\"stops\":"
          "99}}}]}"})
      QVERIFY2(!lookFromRecord(text).ok(), text);
  }
};

HSEAM_TEST(LookTest);
#include "look_test.moc"
