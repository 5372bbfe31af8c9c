#pragma once

#include <cstdint>

namespace hseam::base {

/// A number that no other call in this process has returned. Frozen things carry one; caches key on it, never on addresses.
std::uint64_t nextStamp();

}  // namespace hseam::base
