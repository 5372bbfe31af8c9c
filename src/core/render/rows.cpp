#include "core/render/rows.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/rows.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using Float = hn::ScalableTag<float>;
using Int = hn::RebindToSigned<Float>;

template <class T>
constexpr float kScale = sizeof(T) == 1 ? 1 / 255.f : 1 / 65535.f;

template <class T, class V>
HWY_INLINE hn::Vec<Float> asFloat(Float d, V samples) {
  const Int di;
  return hn::Mul(hn::ConvertTo(d, hn::PromoteTo(di, samples)), hn::Set(d, kScale<T>));
}

template <class T>
void unpackRgb(const T* from, int count, const PlaneRun& to) {
  const Float d;
  const hn::Rebind<T, Float> dt;
  const int lanes = int(hn::Lanes(d));
  float *const red = to.plane[0], *const green = to.plane[1], *const blue = to.plane[2];
  int i = 0;
  for (; i + lanes <= count; i += lanes) {
    hn::Vec<decltype(dt)> r, g, b;
    hn::LoadInterleaved3(dt, from + i * 3, r, g, b);
    hn::StoreU(asFloat<T>(d, r), d, red + i);
    hn::StoreU(asFloat<T>(d, g), d, green + i);
    hn::StoreU(asFloat<T>(d, b), d, blue + i);
  }
  for (; i < count; ++i) {
    red[i] = float(from[i * 3]) * kScale<T>;
    green[i] = float(from[i * 3 + 1]) * kScale<T>;
    blue[i] = float(from[i * 3 + 2]) * kScale<T>;
  }
}

template <class T>
void unpackRgba(const T* from, int count, const PlaneRun& to) {
  const Float d;
  const hn::Rebind<T, Float> dt;
  const int lanes = int(hn::Lanes(d));
  int i = 0;
  for (; i + lanes <= count; i += lanes) {
    hn::Vec<decltype(dt)> r, g, b, a;
    hn::LoadInterleaved4(dt, from + i * 4, r, g, b, a);
    hn::StoreU(asFloat<T>(d, r), d, to.plane[0] + i);
    hn::StoreU(asFloat<T>(d, g), d, to.plane[1] + i);
    hn::StoreU(asFloat<T>(d, b), d, to.plane[2] + i);
    hn::StoreU(hn::Mul(asFloat<T>(d, a), hn::LoadU(d, to.plane[3] + i)), d, to.plane[3] + i);
  }
  for (; i < count; ++i) {
    for (int c = 0; c < 3; ++c) to.plane[c][i] = float(from[i * 4 + c]) * kScale<T>;
    to.plane[3][i] *= float(from[i * 4 + 3]) * kScale<T>;
  }
}

template <class T>
void times(const T* from, int count, float* to) {
  const Float d;
  const hn::Rebind<T, Float> dt;
  const int lanes = int(hn::Lanes(d));
  int i = 0;
  for (; i + lanes <= count; i += lanes)
    hn::StoreU(hn::Mul(asFloat<T>(d, hn::LoadU(dt, from + i)), hn::LoadU(d, to + i)), d, to + i);
  for (; i < count; ++i) to[i] *= float(from[i]) * kScale<T>;
}

void unpack(image::PixelFormat format, const std::byte* pixels, int count, const PlaneRun& to) {
  const auto* narrow = reinterpret_cast<const std::uint8_t*>(pixels);
  const auto* wide = reinterpret_cast<const std::uint16_t*>(pixels);
  switch (format) {
    case image::PixelFormat::rgb8:
      return unpackRgb(narrow, count, to);
    case image::PixelFormat::rgb16:
      return unpackRgb(wide, count, to);
    case image::PixelFormat::rgba8:
      return unpackRgba(narrow, count, to);
    case image::PixelFormat::rgba16:
      return unpackRgba(wide, count, to);
    case image::PixelFormat::grey8:
    case image::PixelFormat::grey16:
      return;
  }
}

void multiply(image::PixelFormat format, const std::byte* pixels, int count, float* to) {
  if (image::isWide(format)) {
    times(reinterpret_cast<const std::uint16_t*>(pixels), count, to);
  } else {
    times(reinterpret_cast<const std::uint8_t*>(pixels), count, to);
  }
}

void pack(const Planes& planes, int first, int count, std::uint32_t* to) {
  const Float d;
  const Int di;
  const hn::RebindToUnsigned<Float> du;
  const auto byteOf = [&](const float* p) {
    const auto v = hn::Min(hn::Max(hn::LoadU(d, p), hn::Zero(d)), hn::Set(d, 1.f));
    return hn::BitCast(du, hn::ConvertTo(di, hn::Add(hn::Mul(v, hn::Set(d, 255.f)), hn::Set(d, 0.5f))));
  };
  const float *r = planes.colour(0) + first, *g = planes.colour(1) + first, *b = planes.colour(2) + first;
  const int lanes = int(hn::Lanes(d));
  int i = 0;
  for (; i + lanes <= count; i += lanes) {
    const auto rg = hn::Or(hn::ShiftLeft<16>(byteOf(r + i)), hn::ShiftLeft<8>(byteOf(g + i)));
    hn::StoreU(hn::Or(hn::Or(rg, byteOf(b + i)), hn::Set(du, 0xff000000u)), du, to + i);
  }
  const auto one = [](float v) {
    // As in the vectors above, to the bit.
    const float scaled = std::clamp(v, 0.f, 1.f) * 255.f, rounded = scaled + 0.5f;
    return std::uint32_t(rounded);
  };
  for (; i < count; ++i) to[i] = 0xff000000u | one(r[i]) << 16 | one(g[i]) << 8 | one(b[i]);
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {

HWY_EXPORT(unpack);
HWY_EXPORT(multiply);
HWY_EXPORT(pack);

void unpackColours(image::PixelFormat format, const std::byte* pixels, int count, const PlaneRun& to) {
  HWY_DYNAMIC_DISPATCH(unpack)(format, pixels, count, to);
}
void timesCoverage(image::PixelFormat format, const std::byte* pixels, int count, float* to) {
  HWY_DYNAMIC_DISPATCH(multiply)(format, pixels, count, to);
}
void packRgb32(const Planes& planes, int first, int count, std::uint32_t* to) {
  HWY_DYNAMIC_DISPATCH(pack)(planes, first, count, to);
}

}  // namespace hseam::render
#endif
