#pragma once

#include <array>
#include <vector>

namespace hseam::render {

/// Four planes of `count` floats: straight encoded colour 0..1 and alpha (or coverage). Planes, so that loops vectorise.
class Planes {
 public:
  explicit Planes(int count) : count_(count), values_(std::size_t(count) * 4) {}
  int count() const { return count_; }
  float* colour(int c) { return values_.data() + std::size_t(c) * std::size_t(count_); }
  const float* colour(int c) const { return values_.data() + std::size_t(c) * std::size_t(count_); }
  float* alpha() { return colour(3); }
  const float* alpha() const { return colour(3); }

 private:
  int count_;
  std::vector<float> values_;
};

}  // namespace hseam::render
