#include "core/image/door/light_guard.h"

#include <cstdint>
#include <filesystem>
#include <fstream>

namespace hseam::image::door {

// OpenEXR File Layout: magic number, version and flags; then for each part attributes of name, type, size and value, ended by
// an empty name. A file of many parts ends its headers with an empty one.
bool hasMalformedHeader(const std::string& path) {
  std::error_code problem;
  const auto whole = std::int64_t(std::filesystem::file_size(path, problem));
  std::ifstream file(path, std::ios::binary);
  const auto number = [&file] {
    std::uint8_t b[4] = {};
    file.read(reinterpret_cast<char*>(b), 4);
    return std::int32_t(b[0] | b[1] << 8 | b[2] << 16 | std::uint32_t(b[3]) << 24);
  };
  if (problem || number() != 20000630) return false;
  constexpr std::int32_t kManyParts = 0x1000;
  const bool many = (number() & kManyParts) != 0;
  const auto word = [&file] {
    std::string text;
    for (char c = 0; text.size() < 256 && file.get(c) && c != 0;) text += c;
    return text;
  };
  bool begins = true;
  while (file) {
    const std::string name = word();
    if (name.empty()) {
      if (begins || !many) return false;
      begins = true;
      continue;
    }
    begins = false;
    word();
    const std::int32_t size = number();
    if (!file || size < 0 || size > whole - std::int64_t(file.tellg())) return true;
    file.seekg(size, std::ios::cur);
  }
  return true;
}

}  // namespace hseam::image::door
