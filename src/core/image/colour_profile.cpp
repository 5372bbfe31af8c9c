#include "core/image/colour_profile.h"

#include <lcms2.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <fstream>

namespace hseam::image {
struct ContextClose {
  void operator()(void* c) const { cmsDeleteContext(static_cast<cmsContext>(c)); }
};
struct ProfileClose {
  void operator()(void* p) const { cmsCloseProfile(p); }
};
struct TransformClose {
  void operator()(void* t) const { cmsDeleteTransform(t); }
};

namespace {

using Profile = std::unique_ptr<void, ProfileClose>;
using Transform = std::unique_ptr<void, TransformClose>;

// Every transform has a context of its own that swallows messages: a broken profile is told by its result.
std::unique_ptr<void, ContextClose> quietContext() {
  std::unique_ptr<void, ContextClose> context(cmsCreateContext(nullptr, nullptr));
  cmsSetLogErrorHandlerTHR(static_cast<cmsContext>(context.get()), [](cmsContext, cmsUInt32Number, const char*) {});
  return context;
}

}  // namespace

struct ProfileTransform::Held {
  std::unique_ptr<void, ContextClose> context;
  std::unique_ptr<void, TransformClose> transform;
  Kind kind = Kind::rgb;
  bool wide = false;
};

ProfileTransform::ProfileTransform(std::unique_ptr<Held> held) : held_(std::move(held)) {}
ProfileTransform::ProfileTransform(ProfileTransform&&) noexcept = default;
ProfileTransform& ProfileTransform::operator=(ProfileTransform&&) noexcept = default;
ProfileTransform::~ProfileTransform() = default;

std::vector<std::byte> srgbProfile() {
  const auto context = quietContext();
  const Profile profile(cmsCreate_sRGBProfileTHR(static_cast<cmsContext>(context.get())));
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile.get(), nullptr, &size);
  std::vector<std::byte> bytes(size);
  cmsSaveProfileToMem(profile.get(), bytes.data(), &size);
  // The date of creation (ICC.1:2022, 7.2.2: bytes 24 to 35, big-endian) would make two exports of one scene differ.
  constexpr std::array<std::uint8_t, 12> kDate = {0x07, 0xea, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0};
  for (std::size_t i = 0; i < kDate.size(); ++i) bytes.at(24 + i) = std::byte(kDate[i]);
  return bytes;
}

base::Result<ProfileTransform> ProfileTransform::make(std::span<const std::byte> bytes, Kind kind, bool wide) {
  auto held = std::make_unique<Held>();
  held->context = quietContext();
  held->kind = kind;
  held->wide = wide;
  auto* context = static_cast<cmsContext>(held->context.get());
  const Profile in(cmsOpenProfileFromMemTHR(context, bytes.data(), cmsUInt32Number(bytes.size())));
  if (!in) return base::Error{base::Code::corrupt, "", "the embedded colour profile is broken"};
  const cmsColorSpaceSignature wanted =
      kind == Kind::grey ? cmsSigGrayData : (kind == Kind::cmyk ? cmsSigCmykData : cmsSigRgbData);
  if (cmsGetColorSpace(in.get()) != wanted) {
    return base::Error{base::Code::unsupported, "", "the embedded colour profile is for other channels than the picture has"};
  }
  const Profile out(cmsCreate_sRGBProfileTHR(context));
  cmsUInt32Number format = wide ? TYPE_RGB_16 : TYPE_RGB_8;
  if (kind == Kind::grey) format = wide ? TYPE_GRAY_16 : TYPE_GRAY_8;
  if (kind == Kind::cmyk) format = TYPE_CMYK_8;
  held->transform.reset(cmsCreateTransformTHR(context, in.get(), format, out.get(), TYPE_RGB_16, INTENT_RELATIVE_COLORIMETRIC,
                                              cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOCACHE));
  if (!held->transform) return base::Error{base::Code::corrupt, "", "the embedded colour profile is broken"};
  return ProfileTransform(std::move(held));
}

void ProfileTransform::apply(const void* in, std::uint16_t* rgb16, std::size_t pixels) const {
  cmsDoTransform(held_->transform.get(), in, rgb16, cmsUInt32Number(pixels));
}

bool ProfileTransform::isSrgb() const {
  if (held_->kind != Kind::rgb) return false;
  for (int r = 0; r <= 255; r += 51) {
    for (int g = 0; g <= 255; g += 51) {
      for (int b = 0; b <= 255; b += 51) {
        const std::uint8_t in8[3] = {std::uint8_t(r), std::uint8_t(g), std::uint8_t(b)};
        const std::uint16_t in16[3] = {std::uint16_t(r * 257), std::uint16_t(g * 257), std::uint16_t(b * 257)};
        std::uint16_t out[3];
        apply(held_->wide ? static_cast<const void*>(in16) : in8, out, 1);
        for (int c = 0; c < 3; ++c) {
          if (std::abs(int(out[c]) - int(in16[c])) > 128) return false;
        }
      }
    }
  }
  return true;
}

struct FromSrgb::Held {
  std::unique_ptr<void, ContextClose> context;
  std::unique_ptr<void, TransformClose> transform;
};

FromSrgb::FromSrgb(std::unique_ptr<Held> held) : held_(std::move(held)) {}
FromSrgb::FromSrgb(FromSrgb&&) noexcept = default;
FromSrgb& FromSrgb::operator=(FromSrgb&&) noexcept = default;
FromSrgb::~FromSrgb() = default;

base::Result<FromSrgb> FromSrgb::make(std::span<const std::byte> bytes) {
  auto held = std::make_unique<Held>();
  held->context = quietContext();
  auto* context = static_cast<cmsContext>(held->context.get());
  const Profile out(cmsOpenProfileFromMemTHR(context, bytes.data(), cmsUInt32Number(bytes.size())));
  if (!out) return base::Error{base::Code::corrupt, "", "this is not a colour profile, or it is broken"};
  if (cmsGetColorSpace(out.get()) != cmsSigRgbData)
    return base::Error{base::Code::unsupported, "", "files are written in red, green and blue, and this profile is not of them"};
  const Profile in(cmsCreate_sRGBProfileTHR(context));
  held->transform.reset(cmsCreateTransformTHR(context, in.get(), TYPE_RGBA_FLT, out.get(), TYPE_RGBA_FLT,
                                              INTENT_RELATIVE_COLORIMETRIC,
                                              cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOCACHE | cmsFLAGS_COPY_ALPHA));
  if (!held->transform)
    return base::Error{base::Code::unsupported, "", "this profile only goes one way: nothing can be written in it"};
  return FromSrgb(std::move(held));
}

void FromSrgb::apply(float* rgba, std::size_t pixels) const {
  cmsDoTransform(held_->transform.get(), rgba, rgba, cmsUInt32Number(pixels));
  for (std::size_t i = 0; i < pixels; ++i) {
    for (std::size_t c = 0; c < 3; ++c) rgba[4 * i + c] = std::clamp(rgba[4 * i + c], 0.f, 1.f);
  }
}

base::Result<std::vector<std::byte>> readProfile(const std::string& path) {
  constexpr std::size_t kMostBytes = std::size_t(16) << 20;
  std::ifstream file(path, std::ios::binary);
  if (!file) return base::Error{base::Code::unreadable, path, "the file may not be read"};
  std::vector<std::byte> bytes;
  char block[65536];
  while (file.read(block, sizeof block), file.gcount() > 0) {
    const auto part = std::as_bytes(std::span(block, std::size_t(file.gcount())));
    bytes.insert(bytes.end(), part.begin(), part.end());
    if (bytes.size() > kMostBytes) return base::Error{base::Code::limitExceeded, path, "this is too large for a colour profile"};
  }
  return bytes;
}

}  // namespace hseam::image
