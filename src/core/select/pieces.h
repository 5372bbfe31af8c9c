#pragma once
// A coverage taken apart into the pieces that stand by themselves: several subjects on one picture.

#include <vector>

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

inline constexpr int kMostPieces = 24;

struct Pieces {
  std::vector<double> areaPx;           // the largest first, at most kMostPieces
  image::Raster<std::uint8_t> nearest;  // for every pixel the index of the piece it lies nearest to
  int count() const { return int(areaPx.size()); }
};

/// Pieces are what hangs together (8 neighbours) at coverage of at least one half and has leastAreaPx or more; what is smaller
/// goes to the piece nearest to it. coverage: grey8. Errors: invalid (no piece is that large), outOfMemory, what reading says.
base::Result<Pieces> pieces(const image::TiledImage& coverage, double leastAreaPx);

/// A grey8 picture of that size where it lies nearest to one piece, `elsewhere` on the others' places. Null stays null.
base::Result<image::TiledImage> onlyPiece(const image::TiledImage& image, const Pieces& pieces, int index, std::uint8_t elsewhere,
                                          base::Executor& executor);

}  // namespace hseam::select
