#pragma once
// The readings of one picture or of a masked part of it.

#include <optional>

#include "core/image/tiled_image.h"
#include "core/measure/exposure.h"
#include "core/measure/grain.h"
#include "core/measure/halo.h"
#include "core/measure/horizon.h"
#include "core/measure/tones.h"

namespace hseam::tasks {

/// What only something with an outline has.
struct EdgeNumbers {
  measure::Reading softnessPx;      // 10 to 90 %
  measure::Reading halo;            // CIEDE2000
  measure::Reading jaggednessPx;    // root of the mean square
  measure::Reading lightDirection;  // degrees clockwise from above
  std::size_t leftovers = 0;        // loose pieces and holes
  double largestLeftoverPx2 = 0;
};
struct PictureNumbers {
  measure::Tones tones;
  measure::Reading saturation;  // C*ab, median
  measure::Cast light;          // a* b* of a grey of L* 60 under its light
  measure::Grain grain;
  measure::Reading sharpnessPx;           // standard deviation
  measure::Horizon horizon;               // of all of the picture, px, whatever the mask
  measure::Reading banding;               // share of smooth slopes
  double blackShare = 0, whiteShare = 0;  // that is at an end of all channels
  std::optional<EdgeNumbers> edge;
  std::optional<measure::ExposureGain> against;  // of another picture of the same place
};
/// mask: grey, of the picture's size; null: what the picture covers. against: of the same size; null: none. Cost: one pass of
/// each reading over the whole picture in single precision, 16 bytes a pixel. Errors: what reading says.
base::Result<PictureNumbers> measured(const image::TiledImage& picture, const image::TiledImage& mask,
                                      const image::TiledImage& against);

}  // namespace hseam::tasks
