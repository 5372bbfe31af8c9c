#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

// WebP by its own library.

base::Result<std::unique_ptr<Reader>> openWebp(const std::string& path);
/// 8 bit, 3 or 4 channels; quality 100 writes without loss.
base::Status writeWebp(const std::string& path, const WriteSpec& spec,
                       const std::function<base::Status(int y, std::byte* row)>& next);

}  // namespace hseam::image::door
