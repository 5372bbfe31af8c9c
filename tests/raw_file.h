#pragma once
// A camera raw file written by hand, in place of a camera: an uncompressed DNG with a Bayer mosaic (TIFF tags by Adobe's
// published DNG specification 1.4).

#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <functional>
#include <string>
#include <vector>

namespace hseam::test {

/// sample(x, y): 0..16383 behind an RGGB mosaic.
inline void writeRaw(const std::string& path, int width, int height, const std::function<int(int, int)>& sample) {
  struct Tag {
    std::uint16_t id, type;
    std::uint32_t count;
    std::vector<std::uint8_t> bytes;
  };
  std::vector<Tag> tags;
  const auto put = [](std::vector<std::uint8_t>& to, std::uint32_t v, int bytes) {
    for (int i = 0; i < bytes; ++i) to.push_back(std::uint8_t(v >> (8 * i)));
  };
  const auto shorts = [&](std::uint16_t id, const std::vector<std::uint32_t>& v) {
    Tag t{id, 3, std::uint32_t(v.size()), {}};
    for (const auto x : v) put(t.bytes, x, 2);
    tags.push_back(t);
  };
  const auto longs = [&](std::uint16_t id, std::uint32_t v) {
    Tag t{id, 4, 1, {}};
    put(t.bytes, v, 4);
    tags.push_back(t);
  };
  const auto text = [&](std::uint16_t id, const std::string& v) {
    Tag t{id, 2, std::uint32_t(v.size() + 1), {}};
    t.bytes.assign(v.begin(), v.end());
    t.bytes.push_back(0);
    tags.push_back(t);
  };
  const auto bytes = [&](std::uint16_t id, const std::vector<std::uint8_t>& v) {
    tags.push_back({id, 1, std::uint32_t(v.size()), v});
  };
  const auto rationals = [&](std::uint16_t id, std::uint16_t type, const std::vector<int>& thousandths) {
    Tag t{id, type, std::uint32_t(thousandths.size()), {}};
    for (const int v : thousandths) put(t.bytes, std::uint32_t(v), 4), put(t.bytes, 1000, 4);
    tags.push_back(t);
  };
  longs(254, 0);
  longs(256, std::uint32_t(width));
  longs(257, std::uint32_t(height));
  shorts(258, {16});
  shorts(259, {1});
  shorts(262, {32803});
  text(271, "Fennick");
  text(272, "Fennick Box 2");
  longs(273, 0);  // where the samples begin: filled in below
  shorts(274, {1});
  shorts(277, {1});
  longs(278, std::uint32_t(height));
  longs(279, std::uint32_t(width * height * 2));
  shorts(284, {1});
  shorts(33421, {2, 2});
  bytes(33422, {0, 1, 1, 2});
  bytes(50706, {1, 4, 0, 0});
  text(50708, "Fennick Box 2");
  shorts(50714, {0});
  longs(50717, 16383);
  // XYZ to camera: the camera sees sRGB's primaries (IEC 61966-2-1, inverse matrix).
  rationals(50721, 10, {3241, -1537, -499, -969, 1876, 42, 56, -204, 1057});
  rationals(50728, 5, {1000, 1000, 1000});
  shorts(50778, {21});
  std::sort(tags.begin(), tags.end(), [](const Tag& a, const Tag& b) { return a.id < b.id; });
  std::vector<std::uint8_t> file{'I', 'I', 42, 0, 8, 0, 0, 0}, beyond;
  const std::uint32_t after = std::uint32_t(8 + 2 + 12 * tags.size() + 4);
  for (const Tag& t : tags) {
    if (t.bytes.size() > 4) beyond.insert(beyond.end(), t.bytes.begin(), t.bytes.end());
    if (beyond.size() % 2) beyond.push_back(0);
  }
  const std::uint32_t samplesAt = after + std::uint32_t(beyond.size());
  put(file, std::uint32_t(tags.size()), 2);
  std::uint32_t next = after;
  for (Tag& t : tags) {
    put(file, t.id, 2), put(file, t.type, 2), put(file, t.count, 4);
    if (t.id == 273) t.bytes.clear(), put(t.bytes, samplesAt, 4);
    if (t.bytes.size() > 4) {
      put(file, next, 4);
      next += std::uint32_t(t.bytes.size() + t.bytes.size() % 2);
    } else {
      t.bytes.resize(4);
      file.insert(file.end(), t.bytes.begin(), t.bytes.end());
    }
  }
  put(file, 0, 4);
  file.insert(file.end(), beyond.begin(), beyond.end());
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) put(file, std::uint32_t(sample(x, y)), 2);
  }
  std::FILE* out = std::fopen(path.c_str(), "wb");
  std::fwrite(file.data(), 1, file.size(), out);
  std::fclose(out);
}

}  // namespace hseam::test
