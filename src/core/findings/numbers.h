#pragma once
// A subject and what it is set into, as numbers to be drawn beside each other.

#include <array>
#include <vector>

#include "core/findings/specimen.h"
#include "core/measure/grain.h"

namespace hseam::findings {

struct LayerNumbers {
  static constexpr int kShares = 41;
  struct Side {
    std::array<float, kShares> lightness{};     // L* below which 0, 2.5 % … 100 % of it lie
    std::vector<std::array<float, 2>> colours;  // a* b* of up to 400 px, spread over it
    measure::Grain grain;                       // by tone
  };
  scene::LayerId layer;
  Side own, scene;  // the scene: around the subject, where that is enough
};
LayerNumbers numbersOf(const Specimen& specimen, scene::LayerId layer, const measure::Grain& own, const measure::Grain& scene);

}  // namespace hseam::findings
