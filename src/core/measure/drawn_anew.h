#pragma once

#include <cstddef>
#include <random>
#include <vector>

namespace hseam::measure {

/// Block bootstrap (Künsch 1989) of an outline's places, for the spread of a reading: whole stretches are drawn with replacement,
/// since neighbours along an outline are not independent. The same seed gives the same draws.
class DrawnAnew {
 public:
  DrawnAnew(std::size_t count, std::size_t stretches, unsigned seed)
      : count_(count), stretches_(stretches), random_(seed), any_(0, stretches - 1) {}
  /// Indices below the count, about as many as it.
  std::vector<std::size_t> next() {
    std::vector<std::size_t> of;
    of.reserve(count_ + count_ / stretches_);
    for (std::size_t s = 0; s < stretches_; ++s) {
      const std::size_t stretch = any_(random_);
      for (std::size_t i = stretch * count_ / stretches_; i < (stretch + 1) * count_ / stretches_; ++i) of.push_back(i);
    }
    return of;
  }

 private:
  std::size_t count_, stretches_;
  std::mt19937 random_;
  std::uniform_int_distribution<std::size_t> any_;
};

}  // namespace hseam::measure
