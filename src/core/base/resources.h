#pragma once

#include <string>

namespace hseam::base {

/// Where something that comes with the program lies: "demo", "fonts". Beside the executable (where it was built), or in
/// ../share/hidden-seam (where it is installed, under any prefix). Empty: it is in neither place.
std::string resourcePath(const std::string& name);

}  // namespace hseam::base
