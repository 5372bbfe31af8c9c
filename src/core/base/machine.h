#pragma once
// How much of the machine the program uses.

#include <cstddef>

namespace hseam::base {

struct MachineShare {
  int threads = 0;             // that compute; 0: one for every core
  std::size_t pixelBytes = 0;  // of pixels in memory before those that are also on the disk are dropped; 0: a third of the memory
  std::size_t thumbnailBytes = 0;  // small pictures in memory; 0: a hundredth of pixelBytes
};
/// Replaces each 0 by a choice that suits the machine and clamps the rest: 1 to 256 threads; pixels 256 MB to three quarters of
/// the memory (a choice: 1 to 16 GB); thumbnails 32 to 512 MB.
MachineShare chosenFor(MachineShare asked);

/// Memory of the machine, bytes.
std::size_t physicalMemory();

}  // namespace hseam::base
