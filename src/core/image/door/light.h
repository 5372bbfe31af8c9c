#pragma once

#include <cstddef>
#include <cstdint>
#include <string>

namespace hseam::image::door {

/// Light as floats to encoded straight samples of 16 bit. What is brighter than white is cut, and told.
class LightRows {
 public:
  LightRows(int channels, bool premultiplied) : channels_(channels), premultiplied_(premultiplied) {}
  /// pixels × channels values.
  void encode(const float* in, std::size_t pixels, std::uint16_t* out);
  /// What was cut, of all that went through; empty if nothing was.
  std::string warning() const;

 private:
  int channels_;
  bool premultiplied_;
  std::size_t all_ = 0, above_ = 0, broken_ = 0;
};

/// Encoded straight samples (8 or 16 bit) to light with alpha multiplied in.
void toLight(const std::byte* row, bool wide, int channels, std::size_t pixels, float* out);

}  // namespace hseam::image::door
