#pragma once

#include <string>

#include "core/base/error.h"

namespace hseam::store {

/// Copies a file into a folder under its own name, reads the copy back from the disk and compares it; a differing copy is
/// removed. An equal file of that name is kept; a different one is never replaced. Errors: notFound, unreadable, conflict
/// (another file of that name lies there, or what was read back differs), unwritable.
base::Status copyVerified(const std::string& from, const std::string& folder);

}  // namespace hseam::store
