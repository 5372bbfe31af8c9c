#pragma once

#include "core/image/metadata.h"

namespace hseam::image::door {

base::Result<Metadata> metadataOf(const std::string& path);
/// EXIF orientation, 1 if the file has none.
int orientationOf(const std::string& path);
base::Status addMetadata(const std::string& path, const Metadata& metadata);

}  // namespace hseam::image::door
