#pragma once

#include <algorithm>
#include <vector>

#include "core/base/executor.h"
#include "core/image/pixel_format.h"
#include "core/image/tiled_image.h"
#include "core/image/transfer.h"

namespace hseam::frames {

/// Splits rows [first, first + count) into blocks and runs work(area) on each in parallel. Returns the first error.
template <class Work>
base::Status blocksOf(int width, int first, int count, base::Executor& executor, const Work& work) {
  constexpr int kBlock = 256;
  std::vector<base::Status> done(std::size_t((width + kBlock - 1) / kBlock));
  executor.forEach(int(done.size()), [&](int n) {
    done[std::size_t(n)] = work(base::Rect{n * kBlock, first, std::min(kBlock, width - n * kBlock), count});
  });
  for (const base::Status& d : done) HSEAM_DO(d);
  return {};
}

/// Encoded 0..1 into the i-th pixel of rows of rgb8 or rgb16; what lies outside is clamped.
inline void put(image::PixelFormat format, std::size_t i, const float* rgb, std::byte* rows) {
  for (std::size_t c = 0; c < 3; ++c) {
    const float v = std::clamp(rgb[c], 0.f, 1.f);
    if (image::isWide(format)) {
      reinterpret_cast<std::uint16_t*>(rows)[i * 3 + c] = image::wholeOf<std::uint16_t>(v * 65535);
    } else {
      reinterpret_cast<std::uint8_t*>(rows)[i * 3 + c] = image::wholeOf<std::uint8_t>(v * 255);
    }
  }
}

/// rgb8 or rgb16, as wide as `format`.
inline image::PixelFormat withoutAlpha(image::PixelFormat format) {
  return image::isWide(format) ? image::PixelFormat::rgb16 : image::PixelFormat::rgb8;
}

}  // namespace hseam::frames
