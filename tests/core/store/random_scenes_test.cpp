// Long random lives of a scene: what is valid stays valid, and what was kept comes back.

#include <QTemporaryDir>

#include "../render/scenes.h"
#include "core/store/project_file.h"
#include "core/store/tile_codec.h"

using namespace hseam;

namespace {

// Any Edit, often a wrong one.
scene::Edit randomEdit(const scene::Scene& s, test::Noise& noise) {
  const auto all = scene::allLayers(s);
  const scene::LayerRef l = all.empty() ? nullptr : all[std::size_t(noise.below(int(all.size())))];
  const scene::LayerId id = l && noise.below(20) ? l->id : scene::LayerId{std::uint64_t(noise.below(30))};
  const auto another = [&] { return all.empty() ? scene::LayerId{} : all[std::size_t(noise.below(int(all.size())))]->id; };
  switch (noise.below(19)) {
    case 0:
    case 1: {
      scene::Layer fresh = test::pictureLayer(scene::freeId(s).value, test::colours(64, 48, noise.below(50)),
                                              noise.below(100) - 20, noise.below(80) - 20);
      return scene::AddLayer{fresh, noise.below(3) ? scene::LayerId{} : another(), noise.below(5) - 1};
    }
    case 2:
      return scene::AddLayer{
          test::adjustmentLayer(scene::freeId(s).value, scene::Levels{0, 1, 0.5 + noise.unit(), 0, 1}), {}, -1};
    case 3:
      return scene::RemoveLayer{id};
    case 4:
      return scene::MoveLayer{id, noise.below(2) ? scene::LayerId{} : another(), noise.below(6) - 1};
    case 5:
      return scene::SetOpacity{id, noise.unit() * 1.1};
    case 6:
      return scene::SetMode{id, scene::BlendMode(noise.below(scene::kBlendModeCount))};
    case 7:
      return scene::SetClip{id, noise.below(2) == 0};
    case 8:
      return scene::SetHidden{id, noise.below(2) == 0};
    case 9:
      return scene::SetPlacement{id,
                                 {noise.unit() * 200 - 50, noise.unit() * 100, noise.unit() * 2, noise.unit() * 360,
                                  noise.below(2) == 0, noise.below(2) == 0}};
    case 10: {
      const base::Size size = l ? scene::maskSizeOf(s, *l) : base::Size{5, 5};
      const std::uint8_t value = std::uint8_t(noise.below(256));
      return scene::SetMask{
          id, test::picture(size.width, size.height, 1, [=](int x, int y, int) { return (x * 3 + y * 5 + value) % 256; }),
          "painted"};
    }
    case 11:
      return scene::SetMask{id, {}, ""};
    case 12:
      return scene::GroupLayers{{id, another()}, scene::freeId(s), "group"};
    case 13:
      return scene::Ungroup{id};
    case 16: {
      scene::MaskNumbers n;
      n.lowest = noise.unit() * 1.02;
      n.softnessPx = noise.below(3) ? 0 : noise.unit() * 9;
      const double x = noise.unit() * 100, y = noise.unit() * 80;
      switch (noise.below(4)) {
        case 0:
          n.parts = {{scene::GradientPart{scene::GradientFill::Form(noise.below(3)), {x, y}, {y, x}}}};
          break;
        case 1:
          n.parts = {{scene::TonesPart{0.2, 0.7, noise.unit()}, scene::MaskPart::Joins::without, true, noise.unit()}};
          break;
        case 2:
          n.parts = {{scene::ColourPart{{0.2, 0.4, 0.6}, x, y}, scene::MaskPart::Joins::also}};
          break;
        default:
          n.parts = {{scene::LayerPart{another()}}};
      }
      if (l && l->picture() && noise.below(4) == 0) n.heldAt = l->picture()->placement;
      return scene::SetMaskNumbers{id, n, "by numbers"};
    }
    case 17:
      return scene::SetShows{id, {{0.1 * noise.unit(), 0.2, 0.7, 0.6 + 0.4 * noise.unit()}, {0, 0, 0.5 + 0.5 * noise.unit(), 1}}};
    case 14:
      return scene::SetMixing{noise.below(2) ? scene::Mixing::linear : scene::Mixing::encoded};
    default:
      return scene::SetName{id, "name " + std::to_string(noise.below(100))};
  }
}

}  // namespace

class RandomScenesTest : public QObject {
  Q_OBJECT
 private slots:
  void whatIsValidStaysValidAndComesBack_data() {
    QTest::addColumn<int>("seed");
    for (int seed : {1, 2, 3, 4}) QTest::addRow("seed %d", seed) << seed;
  }
  void whatIsValidStaysValidAndComesBack() {
    QFETCH(int, seed);
    QTemporaryDir dir;
    const std::string path = dir.filePath(QStringLiteral("life.hseam")).toStdString();
    test::Noise noise{std::uint64_t(seed)};
    scene::Scene s;
    s.canvas = {160, 120};
    std::vector<scene::Scene> scenes = {s};
    int refused = 0;
    {
      auto opened = test::must(store::ProjectFile::create(path, s, "begin", test::memory(), test::here()));
      for (int i = 0; i < 150; ++i) {
        const scene::Edit edit = randomEdit(scenes.back(), noise);
        QVERIFY(!scene::describe(scenes.back(), edit).empty());
        auto next = scene::apply(scenes.back(), edit);
        if (!next.ok()) {
          ++refused;
          QVERIFY(!next.error().detail.empty());
          continue;
        }
        test::must(scene::validate(*next));
        test::must(opened.file->keep({*next, "step"}, scene::editKind(edit), int(scenes.size()) - 1));
        scenes.push_back(std::move(next).value());
      }
    }
    QVERIFY2(refused > 3 && scenes.size() > 60,
             qPrintable(QStringLiteral("%1 refused, %2 done").arg(refused).arg(scenes.size())));
    const auto again = test::must(store::ProjectFile::open(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
    QCOMPARE(again.history.count(), int(scenes.size()));
    for (std::size_t i = 0; i < scenes.size(); i += 11) {
      QVERIFY2(test::rendered(test::must(again.history.sceneOf(int(i)))).samples() == test::rendered(scenes[i]).samples(),
               qPrintable(QStringLiteral("step %1").arg(i)));
    }
  }
  void damagedManifestsNeverCrash() {
    const auto packed =
        store::packManifest(test::colours(700, 300, 3), [](const image::ContentHash&) { return store::TilePlace{}; });
    const auto reader =
        std::make_shared<store::TileReader>(std::make_shared<store::ReadPool>("none", store::Database::Mode::readOnly));
    test::Noise noise(5);
    for (int i = 0; i < 400; ++i) {
      auto broken = packed;
      for (int k = 1 + noise.below(4); k > 0; --k)
        broken[std::size_t(noise.below(int(broken.size())))] = std::byte(noise.below(256));
      const auto back = store::unpackManifest(broken, test::memory(), *reader);
      if (back.ok()) QVERIFY(back->size().width > 0 && back->levelCount() > 0);
    }
  }
};
HSEAM_TEST(RandomScenesTest);
#include "random_scenes_test.moc"
