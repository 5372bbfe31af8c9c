#pragma once

#include <cstddef>
#include <cstdint>
#include <string>

namespace hseam::image::door {

/// Linear floats to encoded straight samples of 16 bit. Values above white are clipped and counted.
class LightRows {
 public:
  LightRows(int channels, bool premultiplied) : channels_(channels), premultiplied_(premultiplied) {}
  /// pixels × channels values.
  void encode(const float* in, std::size_t pixels, std::uint16_t* out);
  /// A sentence about what was clipped; empty if nothing was.
  std::string warning() const;

 private:
  int channels_;
  bool premultiplied_;
  std::size_t all_ = 0, above_ = 0, broken_ = 0;
};

/// Encoded straight samples (8 or 16 bit) to linear, premultiplied.
void toLight(const std::byte* row, bool wide, int channels, std::size_t pixels, float* out);

}  // namespace hseam::image::door
