#pragma once
// Splits a coverage into separate pieces: several subjects on one picture.

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

/// Pieces are 8-connected areas of coverage of at least one half with leastAreaPx or more; smaller ones belong to the nearest
/// piece. coverage: grey8. Errors: invalid (no piece is that large), outOfMemory, what reading says.
base::Result<Pieces> pieces(const image::TiledImage& coverage, double leastAreaPx);

/// A grey8 picture with everything outside one piece's places set to `elsewhere`. Null stays null.
base::Result<image::TiledImage> onlyPiece(const image::TiledImage& image, const Pieces& pieces, int index, std::uint8_t elsewhere,
                                          base::Executor& executor);

}  // namespace hseam::select
