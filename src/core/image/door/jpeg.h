#pragma once

#include <cstdint>

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

// JPEG (ITU-T T.81) by libjpeg: grey, colour, and four inks as they are (8 bit, 255 = full ink).

/// enough: px of the longer side that suffice, 0 for all. A smaller picture is then decoded straight from the file's
/// frequencies, by eighths.
base::Result<std::unique_ptr<Reader>> openJpeg(const std::string& path, int enough);
/// From memory; orientation as told.
base::Result<std::unique_ptr<Reader>> jpegFrom(std::vector<std::uint8_t> bytes, int orientation, int enough);

/// 8 bit, 1 or 3 channels. From quality 90 on colours are kept at full size.
base::Status writeJpeg(const std::string& path, const WriteSpec& spec,
                       const std::function<base::Status(int y, std::byte* row)>& next);

}  // namespace hseam::image::door
