#include "core/image/halving.h"

#include <algorithm>
#include <cstring>

#include "core/image/transfer.h"

namespace hseam::image {
namespace {

constexpr int kHalf = kTileSide / 2;

template <class T>
struct Sample {
  static constexpr float kMax = sizeof(T) == 1 ? 255.f : 65535.f;
};

template <class T>
float toLinear(T v, const std::array<float, 256>& bytes) {
  if constexpr (sizeof(T) == 1) {
    return bytes[v];
  } else {
    return fastLinear(float(v) / Sample<T>::kMax);
  }
}

template <class T>
T fromUnit(float v) {
  return wholeOf<T>(std::clamp(v, 0.f, 1.f) * Sample<T>::kMax);
}

template <class T, int channels>
void halfPixel(const T* const (&in)[4], T* out, const std::array<float, 256>& bytes) {
  if constexpr (channels == 1) {
    *out = T((unsigned(*in[0]) + *in[1] + *in[2] + *in[3] + 2) / 4);
  } else {
    float sum[3] = {}, weight = 0;
    for (const T* p : in) {
      const float a = channels == 4 ? float(p[3]) / Sample<T>::kMax : 1.f;
      weight += a;
      for (int c = 0; c < 3; ++c) sum[c] += a * toLinear(p[c], bytes);
    }
    for (int c = 0; c < 3; ++c) out[c] = weight > 0 ? fromUnit<T>(fastEncoded(sum[c] / weight)) : in[0][c];
    if constexpr (channels == 4) out[3] = fromUnit<T>(weight / 4);
  }
}

template <class T, int channels>
void halfQuarter(const TilePin& pin, int validWidth, int validHeight, T* out) {
  const auto& bytes = linearOf8();
  const T* data = pin.isUniform() ? nullptr : reinterpret_cast<const T*>(pin.data());
  const T* one = reinterpret_cast<const T*>(pin.value());
  if constexpr (channels == 1) {
    // Masks are halved at every touch of a brush: whole rows at once, without looking for the edge.
    if (data && validWidth == kTileSide && validHeight == kTileSide) {
      for (int y = 0; y < kHalf; ++y) {
        const T *above = data + 2 * y * kTileSide, *below = above + kTileSide;
        T* o = out + y * kTileSide;
        for (int x = 0; x < kHalf; ++x)
          o[x] = T((unsigned(above[2 * x]) + above[2 * x + 1] + below[2 * x] + below[2 * x + 1] + 2) / 4);
      }
      return;
    }
  }
  for (int y = 0; y < kHalf; ++y) {
    const int y0 = std::min(2 * y, validHeight - 1), y1 = std::min(2 * y + 1, validHeight - 1);
    for (int x = 0; x < kHalf; ++x) {
      T* o = out + (y * kTileSide + x) * channels;
      if (!data) {
        std::copy(one, one + channels, o);
        continue;
      }
      const int x0 = std::min(2 * x, validWidth - 1), x1 = std::min(2 * x + 1, validWidth - 1);
      const T* const in[4] = {data + (y0 * kTileSide + x0) * channels, data + (y0 * kTileSide + x1) * channels,
                              data + (y1 * kTileSide + x0) * channels, data + (y1 * kTileSide + x1) * channels};
      halfPixel<T, channels>(in, o, bytes);
    }
  }
}

template <class T, int channels>
base::Result<Bytes> halve(const std::array<TileRef, 4>& quarters, int validWidth, int validHeight) {
  Bytes bytes(std::size_t(kTilePixels) * channels * sizeof(T));
  T* out = reinterpret_cast<T*>(bytes.data());
  int filledX = kTileSide, filledY = kTileSide;
  for (int q = 0; q < 4; ++q) {
    const int qx = q % 2, qy = q / 2;
    if (!quarters[std::size_t(q)]) {
      if (q == 1) filledX = kHalf;
      if (q == 2) filledY = kHalf;
      continue;
    }
    HSEAM_TRY(const TilePin p, pin(quarters[std::size_t(q)]));
    halfQuarter<T, channels>(p, std::clamp(validWidth - qx * kTileSide, 1, kTileSide),
                             std::clamp(validHeight - qy * kTileSide, 1, kTileSide),
                             out + (qy * kHalf * kTileSide + qx * kHalf) * channels);
  }
  for (int y = 0; y < kTileSide; ++y) {
    T* row = out + y * kTileSide * channels;
    if (y >= filledY) {
      std::memcpy(row, out + (filledY - 1) * kTileSide * channels, std::size_t(kTileSide) * channels * sizeof(T));
      continue;
    }
    for (int x = filledX; x < kTileSide; ++x)
      std::copy(row + (filledX - 1) * channels, row + filledX * channels, row + x * channels);
  }
  return bytes;
}

}  // namespace

base::Result<Bytes> halved(PixelFormat format, const std::array<TileRef, 4>& quarters, int validWidth, int validHeight) {
  switch (format) {
    case PixelFormat::grey8:
      return halve<std::uint8_t, 1>(quarters, validWidth, validHeight);
    case PixelFormat::grey16:
      return halve<std::uint16_t, 1>(quarters, validWidth, validHeight);
    case PixelFormat::rgb8:
      return halve<std::uint8_t, 3>(quarters, validWidth, validHeight);
    case PixelFormat::rgba8:
      return halve<std::uint8_t, 4>(quarters, validWidth, validHeight);
    case PixelFormat::rgb16:
      return halve<std::uint16_t, 3>(quarters, validWidth, validHeight);
    case PixelFormat::rgba16:
      return halve<std::uint16_t, 4>(quarters, validWidth, validHeight);
  }
  return base::Error{base::Code::unsupported, "", "unknown pixel format"};
}

}  // namespace hseam::image
