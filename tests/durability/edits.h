#pragma once
// What step N of the durability test does, so that a killed project can be checked against what it must hold.

#include "core/scene/edit.h"
#include "core/store/project_file.h"

namespace hseam::durability {

/// Opacities, strokes on a mask, layers that come and go. A function of the step and the scene alone.
inline scene::Edit editFor(const scene::Scene& s, int step, const std::shared_ptr<image::TileMemory>& memory,
                           base::Executor& executor) {
  const scene::LayerId first = s.layers.front()->id;
  switch (step % 4) {
    case 0:
      return scene::SetOpacity{first, double(step % 97) / 96};
    case 1: {
      const auto& mask = s.layers.front()->mask.coverage;
      const auto before = mask.isNull() ? image::uniformCoverage(scene::maskSizeOf(s, *s.layers.front()), 255, memory) : mask;
      image::Raster<std::uint8_t> dab(60, 60);
      for (std::size_t i = 0; i < dab.samples().size(); ++i) dab.samples()[i] = std::uint8_t(i * 31 + std::size_t(step) * 17);
      return scene::SetMask{first, image::withPixels(before, {step * 37 % 900, step * 53 % 700, 60, 60}, dab, executor).value(),
                            "painted"};
    }
    case 2:
      return scene::SetName{first, "step " + std::to_string(step)};
    default:
      if (s.layers.size() > 3) return scene::RemoveLayer{s.layers.back()->id};
      scene::Layer l;
      l.id = scene::freeId(s);
      l.name = "layer of step " + std::to_string(step);
      l.content = scene::AdjustmentContent{scene::Levels{0, 1, 1 + step % 9 * 0.1, 0, 1}};
      return scene::AddLayer{std::move(l), {}, -1};
  }
}

}  // namespace hseam::durability
