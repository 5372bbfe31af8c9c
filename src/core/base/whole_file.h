#pragma once

#include <string>
#include <string_view>

#include "core/base/error.h"

namespace hseam::base {

/// Writes a file beside its place and moves it there: what was there before stays until all of it is written. Errors: unwritable.
Status writeWhole(const std::string& path, std::string_view bytes);

}  // namespace hseam::base
