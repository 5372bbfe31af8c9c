#include "core/matte/quick_look.h"

#include <algorithm>
#include <cmath>
#include <new>
#include <opencv2/imgproc.hpp>

#include "core/image/rgb.h"
#include "core/matte/found_band.h"
#include "core/matte/solver.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kSide = 640;

int quickLevel(const TiledImage& picture) {
  int n = 0;
  while (n + 1 < picture.levelCount() && std::max(picture.level(n).size.width, picture.level(n).size.height) > kSide) ++n;
  return n;
}

}  // namespace

base::Result<TiledImage> quickAlpha(const TiledImage& source, const TiledImage& selection, const TiledImage& band,
                                    base::Executor& executor) try {
  const int level = quickLevel(source);
  const base::Size size = source.level(level).size;
  const Rect all = Rect::of(size);
  HSEAM_TRY(Raster<float> read, image::readFloat(source, level, all));
  const Raster<float> picture = image::rgbOf(std::move(read));
  Raster<std::uint8_t> labels;
  if (!band.isNull()) {
    HSEAM_TRY(labels, image::read8(band, level, all));
  } else {
    Raster<std::uint8_t> rgb(size.width, size.height, 3);
    for (std::size_t i = 0; i < rgb.samples().size(); ++i)
      rgb.samples()[i] = std::uint8_t(std::lround(255 * std::clamp(picture.samples()[i], 0.f, 1.f)));
    HSEAM_TRY(const TiledImage small, image::tiledFromRaster(rgb, image::PixelFormat::rgb8, source.memory(), executor));
    HSEAM_TRY(const Raster<std::uint8_t> chosen, image::read8(selection, level, all));
    HSEAM_TRY(const TiledImage smallSelection,
              image::tiledFromRaster(chosen, image::PixelFormat::grey8, source.memory(), executor));
    FoundBandOptions options;
    const double down = 1.0 / (1 << level);
    options.selectionErrorPx *= down, options.solidMarginPx *= down, options.softMarginPx *= down;
    HSEAM_TRY(const TiledImage found, findBand(small, smallSelection, options, executor, {}));
    HSEAM_TRY(labels, image::read8(found, 0, all));
  }
  SolveOptions options;
  options.encodedShare = 0;
  HSEAM_TRY(const Raster<float> alpha, solveAlpha(picture, labels, options, executor, {}));
  const base::Size full = source.size();
  const cv::Mat coarse(size.height, size.width, CV_32F, const_cast<float*>(alpha.row(0)));
  cv::Mat bytes, fine;
  coarse.convertTo(bytes, CV_8U, 255);
  cv::resize(bytes, fine, cv::Size(full.width, full.height), 0, 0, cv::INTER_LINEAR);
  Raster<std::uint8_t> out(full.width, full.height);
  for (int y = 0; y < full.height; ++y) std::copy_n(fine.ptr<std::uint8_t>(y), full.width, out.row(y));
  return image::tiledFromRaster(out, image::PixelFormat::grey8, source.memory(), executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::matte
