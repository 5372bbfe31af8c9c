#pragma once
// Masks that are softened widely. A Gaussian that reaches far beyond a strip would be worked out again for every strip, from
// surroundings that the strips do not share: it is laid over the whole mask once instead, and the outcome is looked at like any
// mask.

#include <memory>
#include <mutex>
#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::render {

/// Softer than this, px of the level at which it is looked at, counts as wide.
inline constexpr double kWideSoftnessPx = 12;

/// A Gaussian of standard deviation `sigmaPx` over a strip of values with its surroundings, in place. Values beyond it count as
/// 0. The same bits wherever the strip begins. Cost: 12 · sigmaPx additions a value.
void softenStrip(float* values, int width, int height, double sigmaPx);

/// The latest few, made when they are needed first. Any thread.
class SoftMasks {
 public:
  struct Soft {
    image::TiledImage coverage;  // grey16; of the size of the mask's level `level`
    int level = 0;
  };
  /// The mask (px of its level 0) under a Gaussian of standard deviation `sigmaPx`, over what lies within the mask: its border
  /// neither darkens nor hardens. Made on the coarsest level that loses nothing, at least `atLeast`; whole: of the mask's own
  /// size all the same. Cost: one blur of that level. Errors: what pinning says.
  base::Result<Soft> of(const image::TiledImage& mask, double sigmaPx, int atLeast, bool whole);

 private:
  struct Kept {
    std::uint64_t stamp;
    double sigmaPx;
    int level;
    bool whole;
    std::once_flag made;
    std::optional<base::Result<Soft>> soft;
  };
  std::mutex mutex_;
  std::vector<std::shared_ptr<Kept>> kept_;
};

}  // namespace hseam::render
