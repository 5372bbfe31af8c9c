#include "core/deliver/layered.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include "../render/scenes.h"

using namespace hseam;
using namespace hseam::deliver;

class LayeredTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }

  // Pictures only, in every mode that the format names, one in a group that is not isolated.
  static scene::Scene layeredScene() {
    scene::Scene s;
    s.canvas = {180, 130};
    s.mixing = scene::Mixing::encoded;
    s.layers.push_back(test::ref(test::pictureLayer(1, test::colours(180, 130, 1))));
    for (int m = 0; m <= int(scene::BlendMode::luminosity); ++m) {
      scene::Layer l = test::pictureLayer(std::uint64_t(10 + m), test::colours(60, 50, m), m * 7, m * 4);
      l.mode = scene::BlendMode(m);
      l.opacity = 0.7;
      l.mask.coverage = test::disc(60, 50, 10);
      l.hidden = m == 3;
      s.layers.push_back(test::ref(l));
    }
    scene::Layer group;
    group.id = {50};
    group.name = "the pair";
    group.content = scene::GroupContent{{s.layers[5], s.layers[6]}, false};
    s.layers.erase(s.layers.begin() + 5, s.layers.begin() + 7);
    s.layers.push_back(test::ref(group));
    return s;
  }

 private slots:
  void aSceneComesBackAsItWas() {
    const scene::Scene s = layeredScene();
    const auto warnings = test::must(exportLayered(s, at("a.ora"), test::here(), {}));
    QVERIFY(std::any_of(warnings.begin(), warnings.end(),
                        [](const std::string& w) { return w.find("mask baked") != std::string::npos; }));
    const auto back = test::must(store::readOpenRaster(at("a.ora"), test::memory(), test::here(), {}));
    QVERIFY(back.warnings.empty());
    QCOMPARE(scene::allLayers(back.scene).size(), scene::allLayers(s).size());
    scene::Scene same = back.scene;
    same.mixing = s.mixing;  // the format does not say it
    const auto before = test::rendered(s), after = test::rendered(same);
    float worst = 0;
    for (std::size_t i = 0; i < before.samples().size(); ++i)
      worst = std::max(worst, std::abs(before.samples()[i] - after.samples()[i]));
    // Layers are kept in 8 bits.
    QVERIFY2(worst < 3.1f / 255, qPrintable(QString::number(double(worst) * 255)));
    QCOMPARE(back.scene.layers.back()->name, std::string("the pair"));
    QVERIFY(!back.scene.layers.back()->group()->isolated);
    QVERIFY(back.scene.layers[4]->hidden);
  }
  void aMaskThatFollowsAnotherLayerIsBakedIn() {
    scene::Scene s = test::sceneOf(test::colours(180, 130, 1));
    scene::Layer plate = test::pictureLayer(2, test::colours(180, 130, 5));
    scene::MaskPart shape;
    shape.kind = scene::LayerPart{{3}};
    plate.mask.numbers.parts = {shape};
    scene::Layer front = test::pictureLayer(3, test::colours(60, 50, 9), 70, 40);
    front.mask.coverage = test::disc(60, 50, 10);
    s.layers = {s.layers[0], test::ref(plate), test::ref(front)};
    test::must(exportLayered(s, at("follows.ora"), test::here(), {}));
    const auto back = test::must(store::readOpenRaster(at("follows.ora"), test::memory(), test::here(), {}));
    scene::Scene alone = s;
    alone.layers = {s.layers[1], test::ref([&] {
                      scene::Layer unseen = front;
                      unseen.opacity = 0;
                      return unseen;
                    }())};
    scene::Scene read = back.scene;
    read.layers = {back.scene.layers[1]};
    const auto before = test::rendered(alone), after = test::rendered(read);
    QVERIFY(before.at(5, 5)[3] < 0.01f && before.at(100, 65)[3] > 0.99f);  // it shows where the front layer is
    float worst = 0;
    for (int y = 0; y < 130; ++y) {
      for (int x = 0; x < 180; ++x) worst = std::max(worst, std::abs(before.at(x, y)[3] - after.at(x, y)[3]));
    }
    QVERIFY2(worst < 1.1f / 255, qPrintable(QString::number(double(worst) * 255)));
  }
  void whatItCannotHoldIsSaid() {
    const scene::Scene s = test::richScene(90, 70, scene::Mixing::linear);
    const auto warnings = test::must(exportLayered(s, at("b.ora"), test::here(), {}));
    const auto says = [&](const char* words) {
      return std::any_of(warnings.begin(), warnings.end(),
                         [&](const std::string& w) { return w.find(words) != std::string::npos; });
    };
    QVERIFY(says("is an adjustment") && says("group with a mask") && says("\"adjustment 3\""));
  }
  void theFileBeginsWithItsType() {
    test::must(exportLayered(layeredScene(), at("c.ora"), test::here(), {}));
    QFile f(dir_.filePath(QStringLiteral("c.ora")));
    QVERIFY(f.open(QIODevice::ReadOnly));
    const QByteArray head = f.read(60);
    QVERIFY(head.mid(30, 8) == "mimetype" && head.mid(38, 16) == "image/openraster");
  }
  void aFailedExportLeavesWhatWasThere() {
    QFile f(dir_.filePath(QStringLiteral("kept.ora")));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write("older");
    f.close();
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(exportLayered(layeredScene(), at("kept.ora"), test::here(), base::Progress(stop.get_token())).error().code,
             base::Code::cancelled);
    QVERIFY(f.open(QIODevice::ReadOnly));
    QCOMPARE(f.readAll(), QByteArray("older"));
    QCOMPARE(QDir(dir_.path()).entryList(QDir::Files | QDir::Hidden).filter(QStringLiteral(".kept")).size(), 0);
  }
};
HSEAM_TEST(LayeredTest);
#include "layered_test.moc"
