#pragma once
// Colour distributions of subject and background near each place of the band.

#include <array>
#include <vector>

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::matte {

/// A normal distribution of colours. weight 0: unknown. covariance: rr, rg, rb, gg, gb, bb.
struct ColourSpread {
  float weight = 0;
  std::array<float, 3> mean{};
  std::array<float, 6> covariance{};
};

/// Distributions on a grid of cells, gathered along rays from each cell's corner through the band into decided areas, weighted by
/// nearness. Only corners next to undecided pixels are filled.
class LocalColours {
 public:
  /// picture: 3 channels. band: trimap values. guess: an alpha from which pixels of the band within 0.03 of 0 or 1 count as
  /// decided too, so that openings between strands tell the background's colour; or null. pixels: y · width + x of the
  /// undecided ones. All of one size. Cost: about 300 steps along rays an undecided pixel at wide bands.
  LocalColours(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band, const image::Raster<float>* guess,
               const std::vector<int>& pixels, base::Executor& executor);

  ColourSpread subjectAt(int x, int y) const { return between(subject_, x, y); }
  ColourSpread backgroundAt(int x, int y) const { return between(background_, x, y); }

 private:
  ColourSpread between(const std::vector<ColourSpread>& corners, int x, int y) const;

  int across_ = 0;
  std::vector<ColourSpread> subject_, background_;
};

}  // namespace hseam::matte
