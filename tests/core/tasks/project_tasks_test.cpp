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
    const auto png = test::must(tasks::handOver(s, at("o.png"), how, test::here(), {}));
    QVERIFY(png.size == (base::Size{60, 40}) && png.bytes > 0 && png.quality == 0);
    const auto ora = test::must(tasks::handOver(s, at("o.ora"), how, test::here(), {}));
    QVERIFY(ora.size == s.canvas && ora.bytes > png.bytes);
    QCOMPARE(tasks::handOver(s, at("o.gif"), how, test::here(), {}).error().code, base::Code::unsupported);
  }
  void underAWeight() {
    const scene::Scene s = test::richScene(240, 160, scene::Mixing::linear);
    tasks::HandOverOptions how;
    how.mostBytes = 9000;
    how.weighEveryQuality = true;
    const auto made = test::must(tasks::handOver(s, at("w.jpg"), how, test::here(), {}));
    QVERIFY(made.bytes <= how.mostBytes && made.quality > 0 && made.filesTried <= 8);
    QCOMPARE(made.weights.size(), deliver::kUsualQualities.size());
    // The next quality would be over.
    how.mostBytes = 0;
    how.weighEveryQuality = false;
    how.file.quality = made.quality + 1;
    QVERIFY(test::must(tasks::handOver(s, at("next.jpg"), how, test::here(), {})).bytes > 9000);
    how.mostBytes = 10;
    QCOMPARE(tasks::handOver(s, at("none.jpg"), how, test::here(), {}).error().code, base::Code::limitExceeded);
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
