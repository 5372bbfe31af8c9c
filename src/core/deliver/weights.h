#pragma once
// File size against quality.

#include <array>

#include "core/deliver/export.h"
#include "core/deliver/likeness.h"

namespace hseam::deliver {

/// A scene rendered once to 8 bit, to be encoded at several qualities.
struct Encodable {
  image::Raster<std::uint8_t> pixels;   // 3 or 4 channels, encoded sRGB, straight alpha
  ExportOptions options;                // JPEG or WebP
  std::vector<std::byte> profile = {};  // that the pixels are in; empty: sRGB
};
/// Errors: unsupported (another kind of file has no quality), what rendering says, cancelled, outOfMemory.
base::Result<Encodable> encodable(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                                  const base::Progress& progress);

/// The qualities of the curve of size against quality.
inline constexpr std::array kUsualQualities = {20, 40, 55, 70, 80, 87, 92, 97};

/// A file encoded at one quality and decoded again.
struct Trial {
  int quality = 0;
  std::int64_t bytes = 0;
  Likeness likeness;
  image::Raster<std::uint8_t> before, after;  // the least similar square: as rendered, and as decoded
};
/// Errors: unwritable, cancelled, what reading says.
base::Result<Trial> trialAt(const Encodable& picture, int quality, base::Executor& executor, const base::Progress& progress);

/// The best quality whose file has at most mostBytes, found by bisection in at most seven encodings.
struct UnderWeight {
  int quality = 0;
  std::int64_t bytes = 0;
  int files = 0;  // that were written to find it
};
/// Errors: limitExceeded (even the least quality weighs more: the sentence says how much), unwritable, cancelled.
base::Result<UnderWeight> bestUnder(const Encodable& picture, std::int64_t mostBytes, const base::Progress& progress);

}  // namespace hseam::deliver
