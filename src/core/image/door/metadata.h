#pragma once

#include <cstddef>
#include <vector>

#include "core/image/metadata.h"

namespace hseam::image::door {

base::Result<Metadata> metadataOf(const std::string& path);
/// EXIF orientation, 1 if the file has none.
int orientationOf(const std::string& path);
/// The same from EXIF in memory, from its TIFF header on.
int orientationIn(const unsigned char* exif, std::size_t size);
/// The embedded thumbnail (JPEG); empty without one.
std::vector<unsigned char> thumbnailIn(const unsigned char* exif, std::size_t size);
int ratingIn(const std::string& packet);
base::Result<std::string> withRating(const std::string& packet, int rating);
base::Status addMetadata(const std::string& path, const Metadata& metadata);

}  // namespace hseam::image::door
