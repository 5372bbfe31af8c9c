#include "core/base/text.h"

#include <cstdint>

namespace hseam::base {
namespace {

constexpr std::size_t kLongest = 2000;

// Bytes of the character that begins at `at`; 0: there is no proper one.
std::size_t characterAt(std::string_view s, std::size_t at) {
  const auto byte = [&](std::size_t i) { return std::uint32_t(static_cast<unsigned char>(s[at + i])); };
  const std::uint32_t first = byte(0);
  if (first < 0x80) return 1;
  const std::size_t length = first >= 0xf0 ? 4 : (first >= 0xe0 ? 3 : 2);
  if (first < 0xc2 || first > 0xf4 || at + length > s.size()) return 0;
  std::uint32_t code = first & (0x7fu >> length);
  for (std::size_t i = 1; i < length; ++i) {
    if ((byte(i) & 0xc0) != 0x80) return 0;
    code = code << 6 | (byte(i) & 0x3f);
  }
  const bool shortest = code >= (length == 2 ? 0x80u : (length == 3 ? 0x800u : 0x10000u));
  return shortest && code <= 0x10ffff && (code < 0xd800 || code > 0xdfff) ? length : 0;
}

}  // namespace

bool isUtf8(std::string_view bytes) {
  for (std::size_t at = 0; at < bytes.size();) {
    const std::size_t length = characterAt(bytes, at);
    if (length == 0) return false;
    at += length;
  }
  return true;
}

std::string cleanText(std::string_view bytes, Encoding encoding) {
  bytes = bytes.substr(0, bytes.find('\0'));
  const bool utf8 = encoding == Encoding::utf8OrLatin1 && isUtf8(bytes);
  std::string out;
  for (std::size_t at = 0; at < bytes.size();) {
    const auto c = static_cast<unsigned char>(bytes[at]);
    std::string character;
    if (c < 0x20 || c == 0x7f) {
      character = " ";
    } else if (utf8 || c < 0x80) {
      character = bytes.substr(at, characterAt(bytes, at));
    } else if (c >= 0xa0) {
      character = {char(0xc0 | c >> 6), char(0x80 | (c & 0x3f))};
    }
    if (out.size() + character.size() > kLongest) break;
    out += character;
    at += utf8 ? characterAt(bytes, at) : 1;
  }
  const std::size_t first = out.find_first_not_of(' ');
  return first == std::string::npos ? std::string() : out.substr(first, out.find_last_not_of(' ') - first + 1);
}

}  // namespace hseam::base
