#pragma once

#include <algorithm>
#include <nlohmann/json.hpp>
#include <string>

#include "core/base/error.h"

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

}  // namespace hseam::scene
