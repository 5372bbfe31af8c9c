#pragma once

#include <string>

namespace hseam::base {

/// The path of a file or folder that comes with the program: "demo", "fonts". It lies beside the executable (where it was built)
/// or in ../share/hidden-seam (where it is installed, under any prefix). Empty if it is in neither place.
std::string resourcePath(const std::string& name);

}  // namespace hseam::base
