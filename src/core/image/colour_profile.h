#pragma once
// ICC profiles by Little CMS. The working space is sRGB.

#include <cstddef>
#include <memory>
#include <span>
#include <vector>

#include "core/base/error.h"

namespace hseam::image {

/// A profile that describes sRGB, to embed in what is written.
std::vector<std::byte> srgbProfile();

/// Turns rows of an RGB, grey or CMYK picture with an embedded profile into 16-bit sRGB. One thread at a time.
class ProfileTransform {
 public:
  enum class Kind { rgb, grey, cmyk };
  /// Relative colorimetric with black-point compensation. wide: samples of 16 bit, else 8. Errors: corrupt (no valid
  /// profile), unsupported (a profile for other channels). cmyk: 8 bit only, 255 = full ink.
  static base::Result<ProfileTransform> make(std::span<const std::byte> profile, Kind kind, bool wide);
  ProfileTransform(ProfileTransform&&) noexcept;
  ProfileTransform& operator=(ProfileTransform&&) noexcept;
  ~ProfileTransform();

  /// True if the profile is sRGB to within half an 8-bit step, so that nothing needs converting.
  bool isSrgb() const;
  /// in: pixels of 1, 3 or 4 samples; out: 3 16-bit samples each.
  void apply(const void* in, std::uint16_t* rgb16, std::size_t pixels) const;

 private:
  struct Held;
  explicit ProfileTransform(std::unique_ptr<Held> held);
  std::unique_ptr<Held> held_;
};

/// From sRGB to the RGB space of a profile, for files that are to be written in it. One thread at a time.
class FromSrgb {
 public:
  /// Relative colorimetric with black-point compensation. Errors: corrupt (no valid profile), unsupported (not of RGB, or it
  /// cannot be written to).
  static base::Result<FromSrgb> make(std::span<const std::byte> profile);
  FromSrgb(FromSrgb&&) noexcept;
  FromSrgb& operator=(FromSrgb&&) noexcept;
  ~FromSrgb();
  /// Pixels of 4 floats in place: straight encoded colours 0..1, clamped to what the space holds; alpha stays.
  void apply(float* rgba, std::size_t pixels) const;

 private:
  struct Held;
  explicit FromSrgb(std::unique_ptr<Held> held);
  std::unique_ptr<Held> held_;
};

/// The bytes of a profile's file. Errors: unreadable, limitExceeded (above 16 MB).
base::Result<std::vector<std::byte>> readProfile(const std::string& path);

}  // namespace hseam::image
