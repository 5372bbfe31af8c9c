#pragma once

#include <string>
#include <string_view>

#include "core/base/error.h"

namespace hseam::base {

/// Replaces a file in one step: writes a temporary file beside it and renames it. The old file stays until all of the new one is
/// written. Errors: unwritable.
Status writeWhole(const std::string& path, std::string_view bytes);

}  // namespace hseam::base
