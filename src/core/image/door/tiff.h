#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

/// 8 or 16 bit, 1 to 4 channels with straight alpha, Deflate with differences (TIFF 6.0 and its supplement 2).
base::Status writeTiff(const std::string& path, const WriteSpec& spec,
                       const std::function<base::Status(int y, std::byte* row)>& next);

}  // namespace hseam::image::door
