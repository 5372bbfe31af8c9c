#pragma once
// What a program takes of the machine it runs on.

#include <cstddef>

namespace hseam::base {

struct MachineShare {
  int threads = 0;                 // that compute; 0: one for every core
  std::size_t pixelBytes = 0;      // pixels in memory before those that lie on the disk are let go; 0: a third of the memory
  std::size_t thumbnailBytes = 0;  // small pictures in memory; 0: a hundredth of pixelBytes
};
/// With every 0 chosen by the machine, and what was asked for kept within it: 1 to 256 threads, pixels 256 MB to three quarters
/// of the memory (chosen: 1 to 16 GB), small pictures 32 to 512 MB.
MachineShare chosenFor(MachineShare asked);

/// Of the machine, bytes.
std::size_t physicalMemory();

}  // namespace hseam::base
