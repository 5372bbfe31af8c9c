#pragma once
// Pictures that others made, where there are any: the folder that the environment names in HSEAM_PHOTOS. Nothing of it is part of
// the project. photos/NAME.jpg with NAME.mask.png (255 subject, 0 background, 128 not counted), and make_cases.py, which sets
// real cut-outs on real grounds with exact truth.

#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/image/raster.h"
#include "core/image/tiled_image.h"

namespace hseam::truth {

/// The folder; empty: there is none, and what needs it is skipped.
std::string foreignFolder();

/// A photograph and where its subject is.
struct ForeignPhoto {
  std::string name;
  image::TiledImage picture;
  image::Raster<std::uint8_t> mask;
};
std::vector<ForeignPhoto> foreignPhotos(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                        base::Executor& executor);

/// A cut-out set on a ground: everything that a cut can be held against.
struct ForeignCase {
  std::string name;
  image::TiledImage picture, selection;  // the selection misses the edge by up to 10 px
  image::Raster<float> rgb, alpha, colours;
  image::Raster<std::uint8_t> band;  // laid by the known alpha
};
/// Makes the cases by the folder's own script (python3 with numpy and OpenCV) in `into`, which must exist. False: it cannot be
/// run.
bool makeForeignCases(const std::string& folder, const std::string& into, int seed);
/// The folders of the cases in `made`, by name. Every other one was tuned on (the first, the third …); the rest is reported.
std::vector<std::string> foreignCaseFolders(const std::string& made);
ForeignCase readForeignCase(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                            base::Executor& executor);

/// Area that both have over area that either has, where the mask counts; coverage of one half and more is in.
double intersectionOverUnion(const image::TiledImage& coverage, const image::Raster<std::uint8_t>& mask);

}  // namespace hseam::truth
