#pragma once

#include "core/image/door/picture_door.h"

namespace hseam::image::door {

// PNG (third edition) by libpng: every kind, 8 or 16 bit, palettes spread, alpha straight.

base::Result<std::unique_ptr<Reader>> openPng(const std::string& path);
/// 8 or 16 bit, 1 to 4 channels.
base::Status writePng(const std::string& path, const WriteSpec& spec,
                      const std::function<base::Status(int y, std::byte* row)>& next);

}  // namespace hseam::image::door
