#pragma once

#include <string>

#include "core/base/error.h"

namespace hseam::store {

/// Copies a file into a folder under its own name and reads the copy back from the disk: it is there only if it is the same. A
/// file of that name that is the same already is left alone; another one is never replaced. Errors: notFound, unreadable,
/// conflict (another file of that name lies there, or what was read back differs), unwritable.
base::Status copyVerified(const std::string& from, const std::string& folder);

}  // namespace hseam::store
