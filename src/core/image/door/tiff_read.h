#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

/// TIFF 6.0 and BigTIFF by libtiff: the first picture of a file. Grey, colour and inks of 8 and 16 bit as they are, floats
/// without a profile as light (as in OpenEXR); everything else (palettes, fewer bits, Y'CbCr, L*a*b*) as its library shows it,
/// in 8 bit.
base::Result<std::unique_ptr<Reader>> openTiff(const std::string& path);

}  // namespace hseam::image::door
