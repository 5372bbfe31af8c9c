#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <string>

#include "core/base/error.h"

namespace hseam::image {

/// From sRGB to a monitor, by its ICC profile: relative colorimetric with black-point compensation. Any thread, at once.
class DisplayTransform {
 public:
  /// Errors: corrupt (no valid profile), unsupported (not a profile of an RGB device).
  static base::Result<std::shared_ptr<const DisplayTransform>> make(std::span<const std::byte> profile);
  /// Reads the profile from a file. Errors: notFound, unreadable, limitExceeded (above 16 MB), and as above.
  static base::Result<std::shared_ptr<const DisplayTransform>> fromFile(const std::string& path);
  ~DisplayTransform();
  DisplayTransform(const DisplayTransform&) = delete;
  DisplayTransform& operator=(const DisplayTransform&) = delete;
  /// Pixels 0xffRRGGBB in place.
  void apply(std::uint32_t* rgb32, std::size_t count) const;

 private:
  struct Held;
  explicit DisplayTransform(std::unique_ptr<Held> held);
  std::unique_ptr<Held> held_;
};

}  // namespace hseam::image
