#pragma once
// Lifts a thing off its picture, so that it can be moved within it.

#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::retouch {

struct LiftOptions {
  double widerPx = 6;      // margin of the fill around the thing and its shadow, so that no rim stays
  std::uint32_t seed = 1;  // of the fill
};

/// All of the picture's size.
struct Lifted {
  image::TiledImage ground, hole;  // the picture with the place filled; grey8: where
  /// rgb8, encoded: the shadow as a factor of the floor's colours; it continues under the thing. And grey8: where it lies. Null
  /// without a shadow.
  image::TiledImage shadow, shadowPlace;
};

/// thing, shadow: grey8 coverage of the picture's size; shadow may be null, and is counted only where the thing is not. The
/// shadow is what the picture shows against what the fill shows, without its grain. Cost: of repair::filled. Errors: its own;
/// conflict (sizes), invalid (nothing is chosen).
base::Result<Lifted> lifted(const image::TiledImage& picture, const image::TiledImage& thing, const image::TiledImage& shadow,
                            const LiftOptions& options, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::retouch
