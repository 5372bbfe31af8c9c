#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

/// A JPEG of four inks as it is: 8-bit samples, 255 = full ink. The general door makes a plain RGB of these.
base::Result<std::unique_ptr<Reader>> openCmykJpeg(const std::string& path, int orientation);

}  // namespace hseam::image::door
