#pragma once
// Tones, colours and grain of a subject and of its surroundings, to be drawn beside each other.

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
  Side own, scene;  // scene: the surroundings of the subject; all of the scene where those are too small
};
LayerNumbers numbersOf(const Specimen& specimen, scene::LayerId layer, const measure::Grain& own, const measure::Grain& scene);

}  // namespace hseam::findings
