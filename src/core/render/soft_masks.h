#pragma once
// Masks with a wide Gaussian. Computed strip by strip it would be computed again for every strip's surroundings; so the whole
// mask is blurred once and sampled like any mask.

#include <memory>
#include <mutex>
#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::render {

/// Wider than this, in px of the level that is rendered, counts as wide.
inline constexpr double kWideSoftnessPx = 12;

/// A Gaussian of standard deviation `sigmaPx` over a strip of values with its surroundings, in place. Values beyond it count as
/// 0. The same bits wherever the strip begins. Cost: 12 · sigmaPx additions a value.
void softenStrip(float* values, int width, int height, double sigmaPx);

/// A cache of the latest few, made at first use. Any thread.
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
