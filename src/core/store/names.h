#pragma once
// What every source of this folder calls by its short name. For sources alone, not for headers.

#include "core/base/error.h"

namespace hseam::store {

using base::Code;
using base::Error;
using base::Result;
using base::Status;

}  // namespace hseam::store
