#include <QTemporaryDir>
#include <fstream>

#include "core/image/picture_file.h"
#include "core/render/scenes.h"
#include "core/tasks/belong.h"
#include "core/tasks/hand_over.h"
#include "core/tasks/keep.h"

using namespace hseam;

// What is done to a project: made, changed, made to belong, handed over.
class ProjectTasksTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  void write(const char* name, const std::string& text) const { std::ofstream(at(name)) << text; }

 private slots:
  void aProjectIsMadeAndChanged() {
    test::must(image::writeTiled(at("a.png"), test::picture(30, 20, 3, [](int x, int, int) { return 5.0 * x; })));
    write("scene.json",
          R"({"canvas": {"width": 60, "height": 40}, "layers": [{"name": "a", "image": "a.png", "position": [3, 4]}]})");
    tasks::MakeOptions how{at("scene.json"), false};
    QCOMPARE(test::must(tasks::makeProject(at("p.hseam"), how, test::memory(), test::here(), {})).layers, 1);
    const auto again = tasks::makeProject(at("p.hseam"), how, test::memory(), test::here(), {});
    QVERIFY(!again.ok() && again.error().code == base::Code::conflict);
    {
      auto opened = test::must(store::ProjectFile::open(at("p.hseam"), test::memory(), test::here()));
      const scene::LayerId layer = opened.history.scene().layers[0]->id;
      test::must(tasks::keep(opened, scene::SetOpacity{layer, 0.25}));
      // What cannot be applied changes nothing.
      QVERIFY(!tasks::keep(opened, scene::SetOpacity{layer, 7}).ok());
      QCOMPARE(opened.history.count(), 2);
      test::must(opened.file->close());
    }
    {
      const auto back = test::must(store::ProjectFile::openToRead(at("p.hseam"), test::memory(), test::here()));
      QCOMPARE(back.history.scene().layers[0]->opacity, 0.25);
      QCOMPARE(back.history.step(1).kind, std::string("SetOpacity"));
    }
    // A description that fails leaves what was there.
    write("broken.json", R"({"canvas": {"width": 60, "height": 40}, "layers": [{"name": "b", "image": "nowhere.png"}]})");
    QVERIFY(!tasks::makeProject(at("p.hseam"), {at("broken.json"), true}, test::memory(), test::here(), {}).ok());
    QVERIFY(store::ProjectFile::openToRead(at("p.hseam"), test::memory(), test::here()).ok());
    how.replace = true;
    QVERIFY(tasks::makeProject(at("p.hseam"), how, test::memory(), test::here(), {}).ok());
  }
  void everyFormOfFileByItsName() {
    const scene::Scene s = test::richScene(120, 80, scene::Mixing::linear);
    tasks::HandOverOptions how;
    how.width = 60;
    const auto png = test::must(tasks::handOver(s, at("o.png"), how, test::memory(), test::here(), {}));
    QVERIFY(png.size == (base::Size{60, 40}) && png.bytes > 0 && png.quality == 0);
    const auto ora = test::must(tasks::handOver(s, at("o.ora"), how, test::memory(), test::here(), {}));
    QVERIFY(ora.size == s.canvas && ora.bytes > png.bytes);
    QCOMPARE(tasks::handOver(s, at("o.gif"), how, test::memory(), test::here(), {}).error().code, base::Code::unsupported);
  }
  void beforeAndAfterBesideEachOther() {
    // Grey, brightened by an adjustment: the left half is as it came, the right one as it is.
    scene::Scene s;
    s.canvas = {120, 80};
    scene::Layer brighter = test::adjustmentLayer(2, scene::Exposure{1});
    s.layers = {test::ref(test::pictureLayer(1, test::picture(120, 80, 3, [](int, int, int) { return 100.0; }))),
                test::ref(brighter)};
    tasks::HandOverOptions how;
    how.plate = true;
    const auto made = test::must(tasks::handOver(s, at("plate.png"), how, test::memory(), test::here(), {}));
    QVERIFY(made.size.width > 240 && made.size.height > 80);
    const auto read = test::must(image::readPicture(at("plate.png"), test::memory(), test::here(), {})).pixels;
    const auto px = test::must(image::readFloat(read, 0, base::Rect::of(read.size())));
    const int right = made.size.width - 60;
    QVERIFY(std::abs(px.at(60, 40)[0] - 100 / 255.f) < 0.01f && px.at(right, 40)[0] > 0.5f);
    // White between them and below, with words on it.
    QVERIFY(px.at(made.size.width / 2, 40)[0] > 0.99f);
    int dark = 0;
    for (int x = 0; x < made.size.width; ++x) {
      for (int y = 81; y < made.size.height; ++y) dark += px.at(x, y)[0] < 0.6f;
    }
    QVERIFY(dark > 20);
  }
  void underAWeight() {
    const scene::Scene s = test::richScene(240, 160, scene::Mixing::linear);
    tasks::HandOverOptions how;
    how.mostBytes = 9000;
    how.weighEveryQuality = true;
    const auto made = test::must(tasks::handOver(s, at("w.jpg"), how, test::memory(), test::here(), {}));
    QVERIFY(made.bytes <= how.mostBytes && made.quality > 0 && made.filesTried <= 8);
    QCOMPARE(made.weights.size(), deliver::kUsualQualities.size());
    // The next quality would be over.
    how.mostBytes = 0;
    how.weighEveryQuality = false;
    how.file.quality = made.quality + 1;
    QVERIFY(test::must(tasks::handOver(s, at("next.jpg"), how, test::memory(), test::here(), {})).bytes > 9000);
    how.mostBytes = 10;
    QCOMPARE(tasks::handOver(s, at("none.jpg"), how, test::memory(), test::here(), {}).error().code, base::Code::limitExceeded);
  }
  void layersAreMadeToBelongByNameAndKind() {
    const auto told = [](const tasks::LayerBelongs&) { return base::Status(); };
    const scene::Scene s = test::richScene(120, 80, scene::Mixing::linear);
    QCOMPARE(tasks::belong(s, {.layer = "nobody"}, test::here(), {}, told).error().code, base::Code::notFound);
    QCOMPARE(tasks::belong(s, {.only = {"smell"}}, test::here(), {}, told).error().code, base::Code::invalid);
    int layers = 0;
    test::must(tasks::belong(s, {.only = {"cast"}}, test::here(), {}, [&](const tasks::LayerBelongs& l) {
      ++layers;
      for (const auto& step : l.done.steps) {
        if (step.kind != findings::KindId::cast) return base::Status(base::Error{base::Code::invalid, l.name, "another kind"});
      }
      return base::Status();
    }));
    QCOMPARE(layers, int(findings::judgedLayers(s).size()));
  }
};

HSEAM_TEST(ProjectTasksTest);
#include "project_tasks_test.moc"
