#pragma once
// A picture's rating as xmp:Rating (ISO 16684-1) in a sidecar file. The picture itself is never changed.

#include <optional>
#include <string>

#include "core/base/error.h"

namespace hseam::image {

enum class Rating { none, out, perhaps, keep };  // as xmp:Rating: 0, −1, 3, 5

/// "shot.jpg" → "shot.jpg.xmp". Other programs write "shot.xmp"; it is read if there is no "shot.jpg.xmp".
std::string sidecarOf(const std::string& picturePath);

/// none where there is no readable sidecar. 1 and 2 count as out, 3 and 4 as perhaps. Any thread.
Rating ratingOf(const std::string& picturePath);

/// Changes the rating in the sidecar and keeps all else in it; writes a temporary file and renames it. Errors: unwritable,
/// corrupt (the sidecar is not XMP and is left alone).
base::Status setRating(const std::string& picturePath, Rating rating);

}  // namespace hseam::image
