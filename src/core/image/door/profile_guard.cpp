#include "core/image/door/profile_guard.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <fstream>
#include <optional>
#include <vector>

namespace hseam::image::door {
namespace {

using Bytes = std::vector<std::uint8_t>;

// ICC.1:2022, 7.2 and 7.3: a header of 128 bytes, the number of tags, 12 bytes for each tag's place.
constexpr std::size_t kHeader = 128, kEntry = 12;

class File {
 public:
  explicit File(const std::string& path) : stream_(path, std::ios::binary) {}
  /// Nothing if the file does not have so many bytes there.
  std::optional<Bytes> at(std::uint64_t offset, std::size_t count) {
    stream_.clear();
    stream_.seekg(std::streamoff(offset));
    Bytes bytes(count);
    if (!stream_.read(reinterpret_cast<char*>(bytes.data()), std::streamsize(count))) return std::nullopt;
    return bytes;
  }

 private:
  std::ifstream stream_;
};

std::uint32_t number(const std::uint8_t* p, int bytes, bool bigEndian) {
  std::uint32_t v = 0;
  for (int i = 0; i < bytes; ++i) v |= std::uint32_t(p[i]) << 8 * (bigEndian ? bytes - 1 - i : i);
  return v;
}

bool isTorn(const Bytes& head, std::size_t size) {
  if (size < kHeader + 4 || head.size() < kHeader + 4) return true;
  return number(head.data() + kHeader, 4, true) > (size - kHeader - 4) / kEntry;
}

bool tornInTiff(File& file) {
  const auto head = file.at(0, 8);
  if (!head) return false;
  const bool big = (*head)[0] == 'M';
  const std::uint32_t directory = number(head->data() + 4, 4, big);
  const auto count = file.at(directory, 2);
  if (!count) return false;
  constexpr std::uint32_t kProfileTag = 34675;
  for (std::uint32_t i = 0, n = number(count->data(), 2, big); i < n; ++i) {
    const auto entry = file.at(directory + 2 + 12ull * i, 12);
    if (!entry) return false;
    if (number(entry->data(), 2, big) != kProfileTag) continue;
    const std::uint32_t type = number(entry->data() + 2, 2, big), size = number(entry->data() + 4, 4, big);
    if ((type != 1 && type != 7) || size < kHeader + 4) return true;
    const auto profile = file.at(number(entry->data() + 8, 4, big), kHeader + 4);
    return !profile || isTorn(*profile, size);
  }
  return false;
}

bool tornInJpeg(File& file) {
  std::size_t size = 0;
  Bytes first;
  bool any = false;
  for (std::uint64_t at = 2;;) {
    const auto marker = file.at(at, 4);
    if (!marker || (*marker)[0] != 0xff || (*marker)[1] == 0xda) break;
    const std::uint32_t length = number(marker->data() + 2, 2, true);
    constexpr std::size_t kName = 14;  // "ICC_PROFILE", a zero, which part, of how many
    if ((*marker)[1] == 0xe2 && length >= 2 + kName) {
      const auto segment = file.at(at + 4, length - 2);
      static constexpr std::array<char, 12> kProfile = {'I', 'C', 'C', '_', 'P', 'R', 'O', 'F', 'I', 'L', 'E', 0};
      if (segment && std::equal(kProfile.begin(), kProfile.end(), segment->begin())) {
        any = true;
        size += segment->size() - kName;
        first.insert(first.end(), segment->begin() + kName, segment->end());
      }
    }
    at += 2 + std::max(length, 2u);
  }
  return any && isTorn(first, size);
}

}  // namespace

bool hasTornProfile(const std::string& path, const std::string& kind) {
  File file(path);
  if (kind == "tiff" || kind == "raw") return tornInTiff(file);
  return kind == "jpeg" && tornInJpeg(file);
}

}  // namespace hseam::image::door
