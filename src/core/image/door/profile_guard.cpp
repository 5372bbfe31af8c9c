#include "core/image/door/profile_guard.h"

#include <zlib.h>

#include <algorithm>
#include <array>
#include <csetjmp>
#include <cstdint>
#include <cstdio>
#include <fstream>
#include <map>
#include <optional>
#include <vector>

#include <jpeglib.h>

namespace hseam::image::door {
namespace {

using Bytes = std::vector<std::uint8_t>;

// ICC.1:2022, 7.2 and 7.3: a header of 128 bytes, the number of tags, 12 bytes for each tag's place.
constexpr std::size_t kHeader = 128, kEntry = 12;
constexpr std::size_t kLargest = 16u << 20;  // larger than any profile of use

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

std::uint32_t bigEndian(const std::uint8_t* p, int bytes, bool bigEndian) {
  std::uint32_t v = 0;
  for (int i = 0; i < bytes; ++i) v |= std::uint32_t(p[i]) << 8 * (bigEndian ? bytes - 1 - i : i);
  return v;
}

bool isText(const std::uint8_t* type, const char* name) {
  return std::equal(type, type + 4, name);
}

// Whether what the general door reads of a tag lies inside the tag: the places and lengths that the tag itself gives.
bool isMalformedTag(const std::uint8_t* tag, std::size_t size) {
  constexpr std::size_t kTypeAndReserved = 8;
  if (size < kTypeAndReserved) return true;
  if (isText(tag, "desc")) {  // ICC.1:2001, 6.5.17: a count, then as many letters
    if (size < kTypeAndReserved + 4) return true;
    const std::uint32_t count = bigEndian(tag + kTypeAndReserved, 4, true);
    return count == 0 || count > size - kTypeAndReserved - 4;
  }
  if (isText(tag, "mluc")) {  // ICC.1:2022, 10.15: records of language, country, length, place
    constexpr std::size_t kRecords = 16, kRecord = 12;
    if (size < kRecords) return true;
    const std::uint32_t count = bigEndian(tag + 8, 4, true);
    if (count > (size - kRecords) / kRecord) return true;
    for (std::uint32_t i = 0; i < count; ++i) {
      const std::uint8_t* record = tag + kRecords + i * kRecord;
      const std::uint64_t length = bigEndian(record + 4, 4, true), at = bigEndian(record + 8, 4, true);
      if (at + length > size) return true;
    }
  }
  return false;
}

bool isMalformed(const Bytes& profile) {
  if (profile.size() < kHeader + 4) return true;
  const std::uint32_t tags = bigEndian(profile.data() + kHeader, 4, true);
  if (tags > (profile.size() - kHeader - 4) / kEntry) return true;
  for (std::uint32_t i = 0; i < tags; ++i) {
    const std::uint8_t* entry = profile.data() + kHeader + 4 + i * kEntry;
    const std::uint64_t at = bigEndian(entry + 4, 4, true), size = bigEndian(entry + 8, 4, true);
    if (at + size > profile.size() || isMalformedTag(profile.data() + at, size)) return true;
  }
  return false;
}

bool malformedInTiff(File& file) {
  const auto head = file.at(0, 16);
  if (!head) return false;
  const bool big = (*head)[0] == 'M', wide = bigEndian(head->data() + 2, 2, big) == 43;  // wide: places of 8 bytes (BigTIFF)
  const auto place = [&](const std::uint8_t* p) {
    const std::uint64_t a = bigEndian(p, 4, big), b = wide ? bigEndian(p + 4, 4, big) : 0;
    return wide && big ? a << 32 | b : a | b << 32;
  };
  const std::uint64_t directory = place(head->data() + (wide ? 8 : 4));
  const auto count = file.at(directory, wide ? 8 : 2);
  if (!count) return false;
  constexpr std::uint32_t kProfileTag = 34675;
  const std::uint64_t entries = wide ? place(count->data()) : bigEndian(count->data(), 2, big);
  for (std::uint64_t i = 0; i < std::min<std::uint64_t>(entries, 65536); ++i) {
    const auto entry = file.at(directory + count->size() + (wide ? 20 : 12) * i, wide ? 20 : 12);
    if (!entry) return false;
    if (bigEndian(entry->data(), 2, big) != kProfileTag) continue;
    const std::uint32_t type = bigEndian(entry->data() + 2, 2, big);
    const std::uint64_t size = place(entry->data() + 4);
    if ((type != 1 && type != 7) || size < kHeader + 4 || size > kLargest) return true;
    const auto profile = file.at(place(entry->data() + (wide ? 12 : 8)), size);
    return !profile || isMalformed(*profile);
  }
  return false;
}

// By the library that the general door reads these files with: it alone knows over what damage it steps to the next marker.
class JpegProfile {
 public:
  explicit JpegProfile(const std::string& path) : file_(std::fopen(path.c_str(), "rb")) {
    info_.err = jpeg_std_error(&trap_.base);
    trap_.base.error_exit = [](j_common_ptr info) { std::longjmp(reinterpret_cast<Trap*>(info->err)->back, 1); };
    trap_.base.output_message = [](j_common_ptr) {};
    jpeg_create_decompress(&info_);
  }
  JpegProfile(const JpegProfile&) = delete;
  JpegProfile& operator=(const JpegProfile&) = delete;
  ~JpegProfile() {
    jpeg_destroy_decompress(&info_);
    if (file_) std::fclose(file_);
  }
  /// Its parts in the order of their numbers; empty if there is none, or no whole header.
  Bytes read() {
    if (!readHeader()) return {};
    static constexpr std::array<char, 12> kProfile = {'I', 'C', 'C', '_', 'P', 'R', 'O', 'F', 'I', 'L', 'E', 0};
    constexpr std::size_t kName = 14;  // the name, which part, of how many
    std::map<int, Bytes> parts;
    for (const auto* m = info_.marker_list; m; m = m->next) {
      if (m->marker == JPEG_APP0 + 2 && m->data_length >= kName && std::equal(kProfile.begin(), kProfile.end(), m->data))
        parts[m->data[12]].assign(m->data + kName, m->data + m->data_length);
    }
    Bytes profile;
    for (const auto& [number, part] : parts) profile.insert(profile.end(), part.begin(), part.end());
    return profile;
  }

 private:
  struct Trap {
    jpeg_error_mgr base;
    std::jmp_buf back;
  };
  bool readHeader() {
    if (!file_ || setjmp(trap_.back)) return false;
    jpeg_stdio_src(&info_, file_);
    jpeg_save_markers(&info_, JPEG_APP0 + 2, 0xffff);
    jpeg_read_header(&info_, TRUE);
    return true;
  }
  std::FILE* file_;
  Trap trap_{};
  jpeg_decompress_struct info_{};
};

bool malformedInPng(File& file) {
  for (std::uint64_t at = 8;;) {
    const auto chunk = file.at(at, 8);
    if (!chunk || isText(chunk->data() + 4, "IDAT") || isText(chunk->data() + 4, "IEND")) return false;
    const std::uint32_t length = bigEndian(chunk->data(), 4, true);
    if (!isText(chunk->data() + 4, "iCCP")) {
      at += 12ull + length;
      continue;
    }
    // PNG, third edition, 11.3.2.3: a name, a zero, the method 0, then a zlib stream.
    const auto content = length <= kLargest ? file.at(at + 8, length) : std::nullopt;
    if (!content) return true;
    const auto name = std::find(content->begin(), content->end(), 0);
    if (content->end() - name < 3) return true;
    Bytes profile(kLargest);
    uLongf size = kLargest;
    const auto packed = std::size_t(content->end() - name) - 2;
    if (uncompress(profile.data(), &size, &*name + 2, uLong(packed)) != Z_OK) return true;
    profile.resize(size);
    return isMalformed(profile);
  }
}

}  // namespace

bool hasMalformedProfile(const std::string& path, const std::string& kind) {
  File file(path);
  if (kind == "tiff" || kind == "raw") return malformedInTiff(file);
  if (kind == "png") return malformedInPng(file);
  if (kind != "jpeg") return false;
  const Bytes profile = JpegProfile(path).read();
  return !profile.empty() && isMalformed(profile);
}

}  // namespace hseam::image::door
