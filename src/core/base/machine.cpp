#include "core/base/machine.h"

#include <unistd.h>

#include <algorithm>
#include <thread>

namespace hseam::base {

std::size_t physicalMemory() {
  return std::size_t(sysconf(_SC_PHYS_PAGES)) * std::size_t(sysconf(_SC_PAGE_SIZE));
}

MachineShare chosenFor(MachineShare asked) {
  constexpr std::size_t kMB = std::size_t(1) << 20, kGB = std::size_t(1) << 30;
  constexpr int kMostThreads = 256;
  const std::size_t all = physicalMemory();
  MachineShare out;
  out.threads = asked.threads > 0 ? std::min(asked.threads, kMostThreads) : std::max(1, int(std::thread::hardware_concurrency()));
  out.pixelBytes = asked.pixelBytes > 0 ? std::clamp(asked.pixelBytes, 256 * kMB, std::max(256 * kMB, all / 4 * 3))
                                        : std::clamp(all / 3, kGB, 16 * kGB);
  out.thumbnailBytes = std::clamp(asked.thumbnailBytes > 0 ? asked.thumbnailBytes : out.pixelBytes / 100, 32 * kMB, 512 * kMB);
  return out;
}

}  // namespace hseam::base
