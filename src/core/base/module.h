#pragma once

#include <string>

namespace hseam::base {

/// The entry `symbol` of a module that comes with the program and is loaded at first use: it lies beside the executable (where
/// it was built), or in ../lib/hidden-seam (where it is installed, under any prefix). Null: it cannot be loaded. Loaded modules
/// stay.
void* moduleEntry(const std::string& file, const char* symbol);

}  // namespace hseam::base
