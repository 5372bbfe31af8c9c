#pragma once
// Text from files that others made.

#include <string>
#include <string_view>

namespace hseam::base {

/// How its bytes are meant. utf8OrLatin1: UTF-8 if they can be, else ISO 8859-1, which EXIF writers use against its letter.
enum class Encoding { utf8OrLatin1, latin1 };
/// As UTF-8 (RFC 3629), fit to be shown in a line: control characters become spaces, spaces at the ends go, NUL ends it, and it
/// is cut at 2000 bytes, between characters.
std::string cleanText(std::string_view bytes, Encoding encoding = Encoding::utf8OrLatin1);
/// Shortest forms only, no surrogates, nothing above U+10FFFF.
bool isUtf8(std::string_view bytes);

}  // namespace hseam::base
