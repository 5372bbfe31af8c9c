#pragma once
// What a person thinks of a picture, as XMP's rating (xmp:Rating, ISO 16684-1) in a sidecar file. The picture itself is never
// touched.

#include <optional>
#include <string>

#include "core/base/error.h"

namespace hseam::image {

enum class Rating { none, out, perhaps, keep };  // as xmp:Rating: 0, −1, 3, 5

/// "shot.jpg" → "shot.jpg.xmp". Others write "shot.xmp": that one is read where there is no own.
std::string sidecarOf(const std::string& picturePath);

/// None too where there is no sidecar, or it cannot be read: 1 and 2 count as out, 3 and 4 as perhaps. Any thread.
Rating ratingOf(const std::string& picturePath);

/// Writes it into the sidecar, beside all else that stands there; with a temporary name and a rename. Errors: unwritable, corrupt
/// (the sidecar is no XMP: it stays as it is).
base::Status setRating(const std::string& picturePath, Rating rating);

}  // namespace hseam::image
