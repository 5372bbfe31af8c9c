#pragma once
// Brush tips of hair, grass and leaves: generated from a seed, or taken from a picture.

#include <cstdint>
#include <vector>

#include "core/image/raster.h"

namespace hseam::paint {

enum class Growth : std::uint8_t { hair, fur, grass, leaves, wool };

/// Coverage with its root at the middle of the lower side, growing upwards; 256 px and every half of it down to 16.
class StrandTip {
 public:
  static constexpr int kSide = 256;

  /// Drawn; the same for the same seed. haze 0..1: a faint blur round the strands, as where many fine ones are.
  static StrandTip grown(Growth growth, std::uint64_t seed, double haze);
  /// From any coverage (0..255, one channel), fitted into the square, its lower side the root.
  static StrandTip from(const image::Raster<std::uint8_t>& coverage, double haze);

  /// Coverage 0..1 at a point of a stamp that is `length` px high: across −0.5..0.5, up 0..1, both shares of the height.
  float at(double across, double up, double length) const;

 private:
  explicit StrandTip(image::Raster<float> full);
  std::vector<image::Raster<float>> levels_;
};

}  // namespace hseam::paint
