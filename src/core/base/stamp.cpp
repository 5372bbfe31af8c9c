#include "core/base/stamp.h"

#include <atomic>

namespace hseam::base {

std::uint64_t nextStamp() {
  static std::atomic<std::uint64_t> counter{1};
  return counter.fetch_add(1, std::memory_order_relaxed);
}

}  // namespace hseam::base
