#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

// OpenEXR by its own library: the first part of a file, colours or grey with or without alpha, as light; comes and goes as
// encoded sRGB of 16 bit with straight alpha.

base::Result<std::unique_ptr<Reader>> openExr(const std::string& path);
/// Half floats, ZIP.
base::Status writeExr(const std::string& path, const WriteSpec& spec,
                      const std::function<base::Status(int y, std::byte* row)>& next);

}  // namespace hseam::image::door
