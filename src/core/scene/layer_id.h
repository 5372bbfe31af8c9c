#pragma once

#include <compare>
#include <cstdint>

namespace hseam::scene {

struct LayerId {
  std::uint64_t value = 0;  // 0: no layer, or the top of the scene where a parent is meant
  friend auto operator<=>(const LayerId&, const LayerId&) = default;
};

}  // namespace hseam::scene
