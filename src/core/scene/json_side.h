#pragma once

#include <algorithm>
#include <nlohmann/json.hpp>
#include <string>

#include "core/base/error.h"
#include "core/base/geometry.h"
#include "core/scene/placement.h"

namespace hseam::scene {

/// A side length from JSON. Numbers that no int holds come out as a thousand million, which validation refuses; converting them
/// straight would be undefined. Throws what the library throws if it is no number.
inline int sideFrom(const nlohmann::json& j) {
  return int(std::clamp(j.get<double>(), -1e9, 1e9));
}

/// The library's exceptions end here: a record that does not read is a corrupt file.
template <class T, class Read>
base::Result<T> guarded(const char* what, const Read& read) {
  try {
    return read();
  } catch (const nlohmann::json::exception& e) {
    return base::Error{base::Code::corrupt, what, std::string("a record of the project cannot be understood: ") + e.what()};
  }
}

/// The index of a name; of one that is not among them, 0.
template <std::size_t N>
std::size_t indexIn(const char* const (&names)[N], const std::string& name) {
  for (std::size_t i = 0; i < N; ++i) {
    if (name == names[i]) return i;
  }
  return 0;
}
/// Of GradientFill::Form.
inline constexpr const char* kFormNames[] = {"along", "round", "mirrored"};

inline nlohmann::json pointJson(base::Point p) {
  return {p.x, p.y};
}
inline base::Point pointFrom(const nlohmann::json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}

inline nlohmann::json placementJson(const Placement& p) {
  return {{"x", p.x},         {"y", p.y},         {"scale", p.scale},    {"rotationDeg", p.rotationDeg},
          {"flipX", p.flipX}, {"flipY", p.flipY}, {"skewDeg", p.skewDeg}};
}
inline Placement placementFrom(const nlohmann::json& j) {
  return {j.at("x").get<double>(),   j.at("y").get<double>(),   j.at("scale").get<double>(), j.at("rotationDeg").get<double>(),
          j.at("flipX").get<bool>(), j.at("flipY").get<bool>(), j.value("skewDeg", 0.0)};
}

}  // namespace hseam::scene
