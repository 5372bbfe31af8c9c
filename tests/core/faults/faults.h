#pragma once
// Lets the Nth large allocation, or the Nth operation on a file below one folder, fail. Works by standing in for the allocator
// and for the C library's file functions in this test program.

#include <string>

namespace hseam::test::faults {

enum class Kind {
  memory,    // operator new of 64 KiB and more: tiles, rows, packed blocks
  fileOnce,  // one operation fails: a passing error of the disk
  fileOn,    // from the Nth on every operation that writes fails: a disk that is full or gone
};

/// From now on; nth counts from 1. `folder`: files elsewhere are left alone.
void arm(Kind kind, long nth, const std::string& folder = {});
/// Back to normal. True if the fault happened.
bool disarm();

}  // namespace hseam::test::faults
