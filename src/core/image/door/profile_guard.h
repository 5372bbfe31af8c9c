#pragma once

#include <string>

namespace hseam::image::door {

/// True if a TIFF or JPEG file embeds a colour profile that is shorter than its own header and table of tags say: the general
/// door reads past the end of such a one. Anything else, also a file that cannot be read, is false.
bool hasMalformedProfile(const std::string& path, const std::string& kind);

}  // namespace hseam::image::door
