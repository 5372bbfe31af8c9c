#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/base/error.h"

namespace hseam::image {

/// How a picture is shown as it will be printed.
struct Proof {
  enum class Intent : std::uint8_t { perceptual, relative, saturation, absolute };  // as in the ICC's text
  Intent intent = Intent::relative;                                                 // to the paper
  bool paper = false;  // its white and its black as they are, not stretched to the monitor's
  bool warn = false;   // what the ink cannot give shows as middle grey
  friend bool operator==(const Proof&, const Proof&) = default;
};

/// From sRGB to a monitor, by its ICC profile: relative colorimetric with black-point compensation. Any thread, at once.
class DisplayTransform {
 public:
  /// Errors: corrupt (no valid profile), unsupported (not a profile of an RGB device).
  static base::Result<std::shared_ptr<const DisplayTransform>> make(std::span<const std::byte> profile);
  /// Reads the profile from a file. Errors: notFound, unreadable, limitExceeded (above 16 MB), and as above.
  static base::Result<std::shared_ptr<const DisplayTransform>> fromFile(const std::string& path);
  /// The same by way of a printer (or any device) whose profile goes both ways. monitor: empty = sRGB. Errors: corrupt,
  /// unsupported (it cannot be proofed).
  static base::Result<std::shared_ptr<const DisplayTransform>> proof(const Proof& how, std::span<const std::byte> device,
                                                                     std::span<const std::byte> monitor);
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
