// What hseam new reads.

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include "cli/files.h"
#include "cli/ran.h"
#include "core/image/picture_file.h"
#include "core/image/transfer.h"
#include "core/scene/adjustment_kinds.h"
#include "core/store/project_file.h"
#include "pictures.h"

using namespace hseam;

using test::hseamCommand;
using test::Ran;

class DescriptionsTest : public test::CliFiles {
  Q_OBJECT

 private slots:
  void everyAdjustmentOfTheTableIsRead() {
    for (const auto& k : scene::adjustmentKinds()) {
      QJsonObject adjust{{QStringLiteral("adjust"), QLatin1String(k.key)}, {QStringLiteral("name"), QStringLiteral("look")}};
      for (const auto& f : k.fields) adjust[QLatin1String(f.key)] = f.low + 0.3 * (f.high - f.low);
      const QJsonObject canvas{{QStringLiteral("width"), 300}, {QStringLiteral("height"), 240}};
      const QJsonArray layers{QJsonObject{{QStringLiteral("image"), QStringLiteral("disc.png")}}, adjust};
      const QJsonObject all{{QStringLiteral("canvas"), canvas}, {QStringLiteral("layers"), layers}};
      text(QStringLiteral("adjusted.json"), QJsonDocument(all).toJson().constData());
      const QString project = at(QLatin1String(k.key) + QStringLiteral(".hseam"));
      const Ran r =
          hseamCommand({QStringLiteral("new"), project, QStringLiteral("--scene"), at(QStringLiteral("adjusted.json"))});
      QVERIFY2(r.code == 0, r.err.constData());
      const Ran info = hseamCommand({QStringLiteral("info"), project, QStringLiteral("--json")});
      QCOMPARE(info.json()[QStringLiteral("layers")].toArray()[1].toObject()[QStringLiteral("adjust")].toString(),
               QLatin1String(k.name));
    }
  }
  void whatIsMadeOfNumbersIsRead() {
    text(QStringLiteral("made.json"), R"({"canvas": {"width": 300, "height": 240},
      "floor": {"horizon_y": 90, "camera_height_m": 1.5, "view_angle_deg": 40, "tilt_deg": 1},
      "light": {"foot": [60, 150], "top": [60, 110], "tip": [90, 155], "size_deg": 4},
      "layers": [
        {"name": "sky", "fill": {"gradient": {"form": "round", "from": [150, 20], "to": [150, 200],
           "stops": [{"at": 0, "colour": [0.2, 0.3, 0.6], "coverage": 1}, {"at": 1, "colour": [0.8, 0.5, 0.4], "coverage": 1}]}}},
        {"name": "shadow", "light": {"of": "disc", "cast": {"azimuth_deg": 120, "density": 0.6}}, "blend": "multiply"},
        {"name": "other", "light": {"of": "disc", "contact": {"line": [[20, 90], [60, 92]], "width_px": 9}}},
        {"name": "disc", "image": "disc.png", "position": [80, 60], "skew_deg": 8, "real_height_m": 1.2, "horizon_y": 30,
         "shows": {"own": [0, 0.1, 1, 1]}},
        {"name": "rim", "light": {"of": "disc", "edge": {"lit": 0.5, "lit_colour": [1, 0.8, 0.5]}}, "clip": true},
        {"name": "form", "light": {"of": "disc", "shading": {"round_px": 30}}, "clip": true},
        {"name": "grade", "adjust": "exposure", "stops": -1, "mask_numbers": {"lowest": 0.1, "softness_px": 2, "parts": [
           {"kind": "gradient", "from": [0, 0], "to": [0, 200]}, {"kind": "layer", "layer": "disc", "joins": "without"},
           {"kind": "tones", "low": 0.2, "high": 0.9, "softness": 0.1}]}},
        {"name": "title", "words": {"words": "Bay", "size_px": 40, "at": [150, 50], "align": "centre", "colour": [1, 1, 1]}}]})");
    const QString project = at(QStringLiteral("made.hseam"));
    const Ran r = hseamCommand({QStringLiteral("new"), project, QStringLiteral("--scene"), at(QStringLiteral("made.json"))});
    QVERIFY2(r.code == 0, r.err.constData());
    const auto opened = test::must(store::ProjectFile::openToRead(project.toStdString(), test::memory(), test::here()));
    const scene::Scene& s = opened.history.scene();
    const scene::LayerId disc = s.layers[3]->id;
    QVERIFY(s.floor && s.floor->horizonY == 90 && s.floor->tiltDeg == 1);
    QVERIFY(s.light && s.light->casts && s.light->seen->tip.x == 90 && s.light->from.sizeDeg == 4);
    QVERIFY(scene::lightOf(s)->azimuthDeg < 0);  // the shadow falls to the right
    const auto& cast = std::get<scene::CastShadow>(s.layers[1]->light()->kind);
    QVERIFY(s.layers[1]->light()->caster == disc && cast.light.azimuthDeg == 120 && cast.density == 0.6);
    QCOMPARE(cast.foot.y, double(s.layers[3]->picture()->source.size().height));
    QVERIFY(std::get<scene::ContactShadow>(s.layers[2]->light()->kind).line.size() == 2);
    QVERIFY(s.layers[3]->picture()->placement.skewDeg == 8 && s.layers[3]->picture()->realHeightM == 1.2);
    QVERIFY(s.layers[3]->picture()->horizonY == 30.0 && s.layers[3]->shows.own[1] == 0.1);
    const auto& parts = s.layers[6]->mask.numbers.parts;
    QVERIFY(parts.size() == 3 && std::get<scene::LayerPart>(parts[1].kind).layer == disc);
    QVERIFY(parts[1].joins == scene::MaskPart::Joins::without && s.layers[6]->mask.numbers.lowest == 0.1);
    QVERIFY(s.layers[7]->fill()->lettering && s.layers[7]->mask.pathActs);
    const Ran drawn = hseamCommand({QStringLiteral("render"), project, QStringLiteral("--out"), at(QStringLiteral("made.png"))});
    QVERIFY2(drawn.code == 0, drawn.err.constData());
  }
  void badDescriptionsNameTheKey_data() {
    QTest::addColumn<QByteArray>("json");
    QTest::addColumn<QByteArray>("word");
    QTest::newRow("not json") << QByteArray("{canvas") << QByteArray("description");
    QTest::newRow("unknown key") << QByteArray(
                                        R"({"canvas":{"width":9,"height":9},"layers":[{"image":"disc.png","blnd":"screen"}]})")
                                 << QByteArray("blnd");
    QTest::newRow("unknown mode") << QByteArray(
                                         R"({"canvas":{"width":9,"height":9},"layers":[{"image":"disc.png","blend":"shiny"}]})")
                                  << QByteArray("shiny");
    QTest::newRow("two kinds") << QByteArray(
                                      R"({"canvas":{"width":9,"height":9},"layers":[{"image":"disc.png","adjust":"curves"}]})")
                               << QByteArray("layers[0]");
    QTest::newRow("no such picture") << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"image":"gone.png"}]})")
                                     << QByteArray("gone.png");
    QTest::newRow("mask of another size")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"adjust":"curves","mask":"mask.png"}]})")
        << QByteArray("mask");
    QTest::newRow("huge canvas") << QByteArray(R"({"canvas":{"width":900000,"height":9},"layers":[]})") << QByteArray("canvas");
    QTest::newRow("wrong type") << QByteArray(R"({"canvas":{"width":"x","height":9},"layers":[]})") << QByteArray("description");
    QTest::newRow("no value of this adjustment")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"adjust":"gaussian","radius":3}]})") << QByteArray("radius");
    QTest::newRow("a light of nothing")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"light":{"of":"ghost","cast":{}}}]})")
        << QByteArray("ghost");
    QTest::newRow("no key of a shadow")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"light":{"of":"a","cast":{"lenght":3}}}]})")
        << QByteArray("lenght");
    QTest::newRow("no such typeface")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"words":{"words":"a","at":[1,1],"family":"Nosuch"}}]})")
        << QByteArray("Nosuch");
    QTest::newRow("a value out of range")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"adjust":"gaussian","sigma":3000}]})")
        << QByteArray("sigma");
    QTest::newRow("falling curve points")
        << QByteArray(R"({"canvas":{"width":9,"height":9},"layers":[{"adjust":"curves","rgb":[[1,0],[0,1]]}]})")
        << QByteArray("curve");
  }
  void badDescriptionsNameTheKey() {
    QFETCH(QByteArray, json);
    QFETCH(QByteArray, word);
    text(QStringLiteral("bad.json"), json);
    const Ran r = hseamCommand(
        {QStringLiteral("new"), at(QStringLiteral("bad.hseam")), QStringLiteral("--scene"), at(QStringLiteral("bad.json"))});
    QCOMPARE(r.code, 1);
    QVERIFY2(r.err.contains(word), r.err.constData());
    QVERIFY(!QFile::exists(at(QStringLiteral("bad.hseam"))));
  }
};

HSEAM_TEST(DescriptionsTest);
#include "descriptions_test.moc"
