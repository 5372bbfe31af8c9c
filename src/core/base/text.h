#pragma once
// Text from files that others made.

#include <string>
#include <string_view>

namespace hseam::base {

/// How its bytes are meant. utf8OrLatin1: UTF-8 if they can be, else ISO 8859-1, which many EXIF writers use although the
/// standard forbids it.
enum class Encoding { utf8OrLatin1, latin1 };
/// Text as UTF-8 (RFC 3629) for display in one line: control characters become spaces, spaces at the ends are removed, it ends at
/// a NUL, and it is cut between characters at 2000 bytes.
std::string cleanText(std::string_view bytes, Encoding encoding = Encoding::utf8OrLatin1);
/// Valid UTF-8: shortest forms only, no surrogates, nothing above U+10FFFF.
bool isUtf8(std::string_view bytes);

}  // namespace hseam::base
