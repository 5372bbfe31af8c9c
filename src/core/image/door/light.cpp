#include "core/image/door/light.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

#include "core/image/transfer.h"

namespace hseam::image::door {

void LightRows::encode(const float* in, std::size_t pixels, std::uint16_t* out) {
  const std::size_t ch = std::size_t(channels_);
  const bool hasAlpha = channels_ == 2 || channels_ == 4;
  for (std::size_t i = 0; i < pixels * ch; ++i) {
    const bool isAlpha = hasAlpha && i % ch == ch - 1;
    const float a = hasAlpha ? in[i - i % ch + ch - 1] : 1.f;
    float v = in[i];
    if (!std::isfinite(v)) ++broken_, v = 0;
    if (!isAlpha && premultiplied_) v = std::isfinite(a) && a > 0 ? v / a : v;
    above_ += v > 1.0001f;
    const double unit = std::clamp(double(v), 0.0, 1.0);
    out[i] = std::uint16_t(std::lround((isAlpha ? unit : encodedFromLinear(unit)) * 65535));
  }
  all_ += pixels * ch;
}

std::string LightRows::warning() const {
  std::string said;
  if (above_ > 0) {
    char text[160];
    std::snprintf(text, sizeof text, "%.2f %% of its values are brighter than white and are cut there",
                  100.0 * double(above_) / double(all_));
    said = text;
  }
  if (broken_ > 0) said += (said.empty() ? "" : "; ") + std::to_string(broken_) + " values are not numbers and became black";
  return said;
}

void toLight(const std::byte* row, bool wide, int channels, std::size_t pixels, float* out) {
  const auto* samples16 = reinterpret_cast<const std::uint16_t*>(row);
  const auto sample = [&](std::size_t i) {
    return wide ? float(samples16[i]) / 65535.f : float(std::to_integer<int>(row[i])) / 255.f;
  };
  const std::size_t ch = std::size_t(channels);
  for (std::size_t i = 0; i < pixels * ch; ++i) {
    const float alpha = ch == 4 ? sample(i - i % 4 + 3) : 1.f;
    out[i] = ch == 4 && i % 4 == 3 ? alpha : float(linearFromEncoded(double(sample(i)))) * alpha;
  }
}

}  // namespace hseam::image::door
