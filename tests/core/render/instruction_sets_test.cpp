#include <hwy/highway.h>

#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

scene::Scene everything(scene::Mixing mixing) {
  scene::Scene s = test::richScene(211, 97, mixing);
  // All modes, all adjustments, a scaled and a turned picture.
  for (int m = 0; m < scene::kBlendModeCount; ++m) {
    scene::Layer l = test::pictureLayer(std::uint64_t(100 + m), test::colours(150, 60, m + 3, m % 2 ? 3 : 4), m * 3, m);
    l.mode = scene::BlendMode(m);
    l.opacity = m % 3 ? 0.7 : 1;
    if (m % 4 == 0) l.mask.coverage = test::disc(150, 60);
    auto& at = std::get<scene::PictureContent>(l.content).placement;
    if (m % 5 == 1) at.scale = 0.63;
    if (m % 5 == 2) at.rotationDeg = 12;
    s.layers.push_back(ref(l));
  }
  for (int k = 0; k < 2; ++k) {
    scene::Layer bent = test::pictureLayer(std::uint64_t(150 + k), test::colours(150, 60, 5 + k, 4), 20, 12 * k);
    bent.mask.coverage = test::disc(150, 60);
    auto warp = std::make_shared<scene::Warp>();
    if (k == 1) *warp = scene::withGrid({}, {150, 60}, 2, 2), warp->grid[4].x += 9;
    warp->corners = {{5, 3}, {140, -4}, {171, 71}, {-6, 55}};
    std::get<scene::PictureContent>(bent.content).warp = warp;
    s.layers.push_back(ref(bent));
  }
  for (const auto& [id, radius] : {std::pair(160, 3.0), {161, 14.0}})
    s.layers.push_back(ref(test::adjustmentLayer(
        std::uint64_t(id), scene::with(scene::parametric(scene::AdjustmentId::defocus), "radius", radius))));
  s.layers.push_back(ref(test::adjustmentLayer(162, scene::with(scene::parametric(scene::AdjustmentId::warmth), "mired", 30))));
  s.layers.push_back(ref(test::adjustmentLayer(163, scene::parametric(scene::AdjustmentId::vivid))));
  s.layers.push_back(ref(test::adjustmentLayer(200, scene::Levels{0.1, 0.9, 1.3, 0, 1})));
  s.layers.push_back(ref(test::adjustmentLayer(201, scene::Exposure{0.3})));
  s.layers.push_back(ref(test::adjustmentLayer(202, scene::Saturation{0.4})));
  return s;
}

}  // namespace

// The renderer's loops exist once for every instruction set that the compiler knows; the machine's best is taken. None may
// differ from another by a single bit, so that a picture is the same on every machine.
class InstructionSetsTest : public QObject {
  Q_OBJECT
 private slots:
  void cleanup() { hwy::SetSupportedTargetsForTest(0); }
  void allGiveTheSameBits() {
    for (const auto mixing : {scene::Mixing::linear, scene::Mixing::encoded}) {
      const scene::Scene s = everything(mixing);
      hwy::SetSupportedTargetsForTest(0);
      const std::int64_t all = hwy::SupportedTargets();
      hwy::GetChosenTarget().Update(all);
      const auto best = test::rendered(s);
      int tried = 0;
      for (std::int64_t rest = all; rest != 0; rest &= rest - 1) {
        const std::int64_t one = rest & -rest;
        hwy::SetSupportedTargetsForTest(one);
        hwy::GetChosenTarget().Update(one);
        const auto out = test::rendered(s);
        for (std::size_t i = 0; i < best.samples().size(); ++i) {
          QVERIFY2(
              out.samples()[i] == best.samples()[i],
              qPrintable(
                  QStringLiteral("%1 at (%2, %3)").arg(QLatin1String(hwy::TargetName(one))).arg(i / 4 % 211).arg(i / 4 / 211)));
        }
        ++tried;
      }
      hwy::SetSupportedTargetsForTest(0);
      hwy::GetChosenTarget().Update(all);
      QVERIFY2(tried >= 2, "this machine has one instruction set only");
    }
  }
};
HSEAM_TEST(InstructionSetsTest);
#include "instruction_sets_test.moc"
