#pragma once

#include <cstddef>

namespace hseam::base {

/// How many bytes pixels may take up before those that lie on the disk are let go: a third of the machine's memory, 1 to 16 GB.
std::size_t pixelMemoryBudget();

}  // namespace hseam::base
