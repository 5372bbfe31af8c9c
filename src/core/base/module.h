#pragma once

#include <string>

namespace hseam::base {

/// Loads a module that comes with the program and returns its entry `symbol`; null if it cannot be loaded. The module lies beside
/// the executable (where it was built) or in ../lib/hidden-seam (where it is installed, under any prefix). Loaded modules are
/// never unloaded.
void* moduleEntry(const std::string& file, const char* symbol);

}  // namespace hseam::base
