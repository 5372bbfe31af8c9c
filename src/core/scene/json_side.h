#pragma once

#include <algorithm>
#include <nlohmann/json.hpp>

namespace hseam::scene {

/// A side length from JSON. Numbers that no int holds come out as a thousand million, which validation refuses; converting them
/// straight would be undefined. Throws what the library throws if it is no number.
inline int sideFrom(const nlohmann::json& j) {
  return int(std::clamp(j.get<double>(), -1e9, 1e9));
}

}  // namespace hseam::scene
