#pragma once
// Plain pixels in one piece of memory, for algorithms that want a whole (small) area at once.

#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::image {

/// Owns width × height pixels of `channels` interleaved samples, rows without gaps, starting at zero.
template <class T>
class Raster {
 public:
  Raster() = default;
  Raster(int width, int height, int channels = 1, T fill = T{})
      : width_(width),
        height_(height),
        channels_(channels),
        samples_(std::size_t(width) * std::size_t(height) * std::size_t(channels), fill) {}

  int width() const { return width_; }
  int height() const { return height_; }
  int channels() const { return channels_; }
  base::Size size() const { return {width_, height_}; }
  bool empty() const { return samples_.empty(); }
  std::size_t pixels() const { return std::size_t(width_) * std::size_t(height_); }

  T* at(int x, int y) { return samples_.data() + offset(x, y); }
  const T* at(int x, int y) const { return samples_.data() + offset(x, y); }
  T* row(int y) { return at(0, y); }
  const T* row(int y) const { return at(0, y); }
  std::vector<T>& samples() { return samples_; }
  const std::vector<T>& samples() const { return samples_; }

 private:
  std::size_t offset(int x, int y) const {
    return (std::size_t(y) * std::size_t(width_) + std::size_t(x)) * std::size_t(channels_);
  }
  int width_ = 0, height_ = 0, channels_ = 1;
  std::vector<T> samples_;
};

}  // namespace hseam::image
