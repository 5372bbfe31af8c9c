#pragma once

#include <cstdint>

namespace hseam::paint {

/// Numbers that look random and are the same for the same seed everywhere (SplitMix64, Steele, Lea, Flood 2014).
class Dice {
 public:
  explicit Dice(std::uint64_t seed) : state_(seed) {}
  double unit() {  // 0..1
    std::uint64_t z = (state_ += 0x9e3779b97f4a7c15ull);
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
    return double((z ^ (z >> 31)) >> 11) * 0x1p-53;
  }
  double spread() { return 2 * unit() - 1; }  // −1..1

 private:
  std::uint64_t state_;
};

}  // namespace hseam::paint
