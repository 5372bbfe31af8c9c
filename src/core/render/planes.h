#pragma once

#include <algorithm>
#include <cstdlib>
#include <cstring>
#include <memory>
#include <new>

#include "core/base/error.h"
#include "core/base/geometry.h"

namespace hseam::render {

/// Four planes of `count` floats: straight encoded colour 0..1 and alpha (or coverage). Each plane begins at a 64-byte border
/// and may be read and written up to padded(), so that kernels need no remainder loops. Contents begin unspecified but for
/// the padding, which is 0.
class Planes {
 public:
  explicit Planes(int count) : count_(count), padded_((count + kLanes - 1) / kLanes * kLanes), values_(allocate(padded_)) {
    for (int c = 0; c < 4; ++c) std::fill(colour(c) + count_, colour(c) + padded_, 0.f);
  }
  Planes(const Planes& other) : Planes(other.count_) { *this = other; }
  Planes& operator=(const Planes& other) {
    CORE_CHECK(padded_ == other.padded_);
    std::memcpy(values_.get(), other.values_.get(), std::size_t(padded_) * 4 * sizeof(float));
    return *this;
  }
  Planes(Planes&&) noexcept = default;
  Planes& operator=(Planes&&) noexcept = default;
  ~Planes() = default;

  int count() const { return count_; }
  int padded() const { return padded_; }
  float* colour(int c) { return values_.get() + std::size_t(c) * std::size_t(padded_); }
  const float* colour(int c) const { return values_.get() + std::size_t(c) * std::size_t(padded_); }
  float* alpha() { return colour(3); }
  const float* alpha() const { return colour(3); }
  /// Transparent black everywhere.
  void clear() { std::memset(values_.get(), 0, std::size_t(padded_) * 4 * sizeof(float)); }

 private:
  static constexpr int kLanes = 16;
  struct Free {
    void operator()(float* p) const { std::free(p); }
  };
  static std::unique_ptr<float[], Free> allocate(int padded) {
    auto* p = static_cast<float*>(std::aligned_alloc(64, std::size_t(std::max(padded, kLanes)) * 4 * sizeof(float)));
    if (!p) throw std::bad_alloc();  // caught at the renderer's door
    return std::unique_ptr<float[], Free>(p);
  }

  int count_;
  int padded_;
  std::unique_ptr<float[], Free> values_;
};

/// The pixels of `part`, which lies within `area`, out of planes that hold the area's rows in order.
inline void copyPart(const Planes& from, const base::Rect& area, const base::Rect& part, Planes& to) {
  for (int c = 0; c < 4; ++c) {
    for (int y = 0; y < part.height; ++y)
      std::copy_n(from.colour(c) + (part.y - area.y + y) * area.width + part.x - area.x, part.width,
                  to.colour(c) + y * part.width);
  }
}

}  // namespace hseam::render
