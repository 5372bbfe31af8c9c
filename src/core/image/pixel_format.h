#pragma once

#include <cstddef>
#include <cstdint>

namespace hseam::image {

/// How a pixel lies at rest: interleaved unsigned integers, colours straight and sRGB-encoded, grey as coverage.
enum class PixelFormat : std::uint8_t { grey8, grey16, rgb8, rgba8, rgb16, rgba16 };

constexpr int channelsOf(PixelFormat f) {
  switch (f) {
    case PixelFormat::grey8:
    case PixelFormat::grey16:
      return 1;
    case PixelFormat::rgb8:
    case PixelFormat::rgb16:
      return 3;
    case PixelFormat::rgba8:
    case PixelFormat::rgba16:
      return 4;
  }
  return 0;
}
constexpr bool isWide(PixelFormat f) {
  return f == PixelFormat::grey16 || f == PixelFormat::rgb16 || f == PixelFormat::rgba16;
}
constexpr bool hasAlpha(PixelFormat f) {
  return f == PixelFormat::rgba8 || f == PixelFormat::rgba16;
}
constexpr std::size_t bytesOf(PixelFormat f) {
  return std::size_t(channelsOf(f)) * (isWide(f) ? 2 : 1);
}

}  // namespace hseam::image
