#include "core/base/machine.h"

#include <unistd.h>

#include <algorithm>

namespace hseam::base {

std::size_t pixelMemoryBudget() {
  const auto pages = std::size_t(sysconf(_SC_PHYS_PAGES)), page = std::size_t(sysconf(_SC_PAGE_SIZE));
  return std::clamp<std::size_t>(pages * page / 3, std::size_t(1) << 30, std::size_t(16) << 30);
}

}  // namespace hseam::base
