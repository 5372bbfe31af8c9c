#pragma once

#include <string>

#include "core/base/error.h"
#include "core/image/raster.h"

namespace hseam::image {

/// A small picture of a file, for lists and sheets: sRGB of 8 bit, upright, rgb, or rgba with straight alpha; its longer side has
/// at most `longest` px (1 or more). Uses an embedded preview or scaled JPEG decoding where that is large enough, else decodes
/// the whole file. Any number of threads at a time; a picture costs as much memory as its decoded samples. Errors: as
/// readPicture.
base::Result<Raster<std::uint8_t>> preview(const std::string& path, int longest);

}  // namespace hseam::image
