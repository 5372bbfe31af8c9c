#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

// Camera raw by LibRaw: the camera's white balance, no brightening, 16 bit of sRGB, upright.

/// enough: as for openJpeg; where the camera left a JPEG of that size in the file, that is read.
base::Result<std::unique_ptr<Reader>> openRaw(const std::string& path, int enough);

}  // namespace hseam::image::door
