// What is kept of the layers behind a change must not be seen in the picture.

#include "core/render/lower_layers.h"

#include "core/render/renderer.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

// One block, painted part by part through the backdrop.
image::Raster<float> through(render::LowerLayers& backdrop, const scene::Scene& s) {
  const base::Rect block = backdrop.block();
  image::Raster<float> out(block.width, block.height, 4);
  render::Renderer renderer;
  for (const base::Rect& part : {base::Rect{block.x + 40, block.y + 17, 90, 61}, block}) {
    const auto sink = [&](const base::Rect& at, const render::Planes& pixels) {
      for (int y = 0; y < at.height; ++y) {
        for (int x = 0; x < at.width; ++x) {
          for (int c = 0; c < 4; ++c) out.at(at.x + x - block.x, at.y + y - block.y)[c] = pixels.colour(c)[y * at.width + x];
        }
      }
    };
    const base::Status done = renderer.renderTo(s, part, 0, test::here(), sink, {}, &backdrop);
    Q_ASSERT(done.ok());
  }
  return out;
}

scene::Scene withOpacity(const scene::Scene& s, std::size_t at, double opacity) {
  return test::must(scene::apply(s, scene::SetOpacity{s.layers[at]->id, opacity}));
}

}  // namespace

class LowerLayersTest : public QObject {
  Q_OBJECT
 private slots:
  void whatFollowsAChangingShapeIsNotKept() {
    // The plate behind shows only where the layer in front is; the layer in front moves.
    scene::Scene s = test::sceneOf(test::colours(700, 520, 1));
    scene::Layer plate = test::pictureLayer(2, test::colours(700, 520, 7));
    scene::MaskPart shape;
    shape.kind = scene::LayerPart{{4}};
    plate.mask.numbers.parts = {shape};
    scene::Layer group;
    group.id = {3};
    group.content = scene::GroupContent{{ref(plate)}};
    s.layers = {s.layers[0], ref(group), ref(test::pictureLayer(4, test::colours(200, 160, 3), 250, 260))};
    const base::Rect block{256, 256, 256, 256};
    scene::Placement moved = s.layers[2]->picture()->placement;
    moved.x += 90;
    const scene::Scene next = test::must(scene::apply(s, scene::SetPlacement{{4}, moved}));
    QCOMPARE(render::sameFromTheBack(s, next), std::size_t(1));
    render::Renderer renderer;
    render::LowerLayers backdrop(s, render::sameFromTheBack(s, next), block, 0);
    for (const scene::Scene* each : std::initializer_list<const scene::Scene*>{&s, &next}) {
      const auto plain = test::must(renderer.render(*each, block, 0, test::here()));
      QVERIFY(through(backdrop, *each).samples() == plain.samples());
    }
  }
  void showsTheSameBits() {
    const base::Rect block{256, 256, 256, 256};
    const scene::Scene s = test::richScene(700, 520, scene::Mixing::linear);
    render::Renderer renderer;
    int used = 0;
    for (std::size_t at = 0; at < s.layers.size(); ++at) {
      const scene::Scene changed = withOpacity(s, at, 0.31), again = withOpacity(s, at, 0.62);
      const std::size_t same = render::sameFromTheBack(s, changed);
      QVERIFY(same <= at);
      if (same == 0) continue;
      render::LowerLayers backdrop(changed, same, block, 0);
      QCOMPARE(backdrop.standsFor(again, 0), same);
      for (const scene::Scene* each : {&changed, &again}) {
        const auto plain = test::must(renderer.render(*each, block, 0, test::here()));
        QVERIFY(through(backdrop, *each).samples() == plain.samples());
      }
      used += backdrop.strip(block.y) != nullptr;
    }
    QVERIFY(used >= 2);
  }
  void standsForNothingElse() {
    const scene::Scene s = test::richScene(300, 200, scene::Mixing::linear);
    const std::size_t last = s.layers.size() - 1;
    const render::LowerLayers backdrop(s, last, {0, 0, 256, 200}, 1);
    QCOMPARE(backdrop.standsFor(s, 0), std::size_t(0));
    QCOMPARE(backdrop.standsFor(withOpacity(s, 0, 0.5), 1), std::size_t(0));
    scene::Scene encoded = s;
    encoded.mixing = scene::Mixing::encoded;
    QCOMPARE(backdrop.standsFor(encoded, 1), std::size_t(0));
    // A layer confined to the last kept one acts together with it.
    scene::Scene confined = s;
    scene::Layer front = *s.layers[last];
    front.clip = true;
    confined.layers[last] = ref(front);
    QCOMPARE(backdrop.standsFor(confined, 1), std::size_t(0));
    QVERIFY(render::sameFromTheBack(s, confined) < last);
  }
};

HSEAM_TEST(LowerLayersTest);
#include "lower_layers_test.moc"
