#include "core/image/preview.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/image/decoded_file.h"
#include "core/image/transfer.h"

namespace hseam::image {
namespace {

// Means over whole pixels, in light and weighed by alpha. Inks are averaged as they are.
template <class T>
class Smaller {
 public:
  Smaller(const DecodedFile& from, base::Size to) : from_(from), size_(to), ch_(std::size_t(from.header.channels)) {
    for (std::size_t v = 0; v < light_.size(); ++v)
      light_[v] = from.header.cmyk ? float(v) / float(light_.size() - 1) : fastLinear(float(v) / float(light_.size() - 1));
  }
  std::vector<std::byte> rows() const {
    std::vector<std::byte> out(std::size_t(size_.width) * std::size_t(size_.height) * ch_ * sizeof(T));
    auto* to = reinterpret_cast<T*>(out.data());
    for (int y = 0; y < size_.height; ++y) {
      for (int x = 0; x < size_.width; ++x, to += ch_) mean(x, y, to);
    }
    return out;
  }

 private:
  static constexpr float kMost = float(T(~T(0)));
  void mean(int x, int y, T* out) const {
    const base::Size s = from_.header.size;
    const auto part = [](int i, int of, int all) { return int(std::int64_t(i) * all / of); };
    const int left = part(x, size_.width, s.width), right = std::max(left + 1, part(x + 1, size_.width, s.width));
    const int top = part(y, size_.height, s.height), bottom = std::max(top + 1, part(y + 1, size_.height, s.height));
    const bool alpha = ch_ == 2 || (ch_ == 4 && !from_.header.cmyk);
    const std::size_t colours = alpha ? ch_ - 1 : ch_;
    double sum[8] = {}, weight = 0;
    const auto* samples = reinterpret_cast<const T*>(from_.rows.data());
    for (int sy = top; sy < bottom; ++sy) {
      const T* in = samples + (std::size_t(sy) * std::size_t(s.width) + std::size_t(left)) * ch_;
      for (int sx = left; sx < right; ++sx, in += ch_) {
        const double w = alpha ? double(in[colours]) : 1;
        weight += w;
        for (std::size_t c = 0; c < colours; ++c) sum[c] += w * double(light_[in[c]]);
      }
    }
    for (std::size_t c = 0; c < colours; ++c) {
      const float v = weight > 0 ? float(sum[c] / weight) : 0;
      out[c] = T(std::lround((from_.header.cmyk ? v : fastEncoded(v)) * kMost));
    }
    if (alpha) out[colours] = T(std::lround(weight / (double(right - left) * (bottom - top))));
  }
  const DecodedFile& from_;
  base::Size size_;
  std::size_t ch_;
  std::vector<float> light_ = std::vector<float>(std::size_t(T(~T(0))) + 1);
};

void shrink(DecodedFile& file, int longest) {
  const base::Size s = file.header.size;
  const double k = double(longest) / std::max(s.width, s.height);
  if (k >= 1) return;
  const base::Size to{std::max(1, int(std::lround(s.width * k))), std::max(1, int(std::lround(s.height * k)))};
  file.rows = file.header.wide ? Smaller<std::uint16_t>(file, to).rows() : Smaller<std::uint8_t>(file, to).rows();
  file.header.size = to;
}

}  // namespace

base::Result<Raster<std::uint8_t>> preview(const std::string& path, int longest) try {
  HSEAM_TRY(DecodedFile file, decodeFile(path, {}, longest));
  shrink(file, longest);
  std::vector<std::string> warnings;
  const ToSrgb toSrgb(file, warnings);
  const base::Size size = toSrgb.size();
  const PixelFormat format = toSrgb.format();
  Raster<std::uint8_t> out(size.width, size.height, channelsOf(format));
  std::vector<std::byte> row(std::size_t(size.width) * bytesOf(format));
  for (int y = 0; y < size.height; ++y) {
    toSrgb.row(y, row.data());
    const std::size_t count = std::size_t(size.width) * std::size_t(out.channels());
    if (!isWide(format)) {
      std::memcpy(out.row(y), row.data(), count);
      continue;
    }
    const auto* wide = reinterpret_cast<const std::uint16_t*>(row.data());
    std::transform(wide, wide + count, out.row(y), [](std::uint16_t v) { return std::uint8_t((v * 255u + 32767u) / 65535u); });
  }
  return out;
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::image
