#include "core/select/full_size.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "core/image/rgb.h"
#include "core/select/guided.h"

namespace hseam::select {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

// One level finer: enlarged, then let the finer picture decide along the outline, tile by tile.
base::Result<Raster<std::uint8_t>> finer(const TiledImage& picture, int level, const Raster<std::uint8_t>& coarse,
                                         base::Executor& executor) {
  const base::Size size = picture.level(level).size;
  Raster<std::uint8_t> out(size.width, size.height);
  cv::Mat enlarged(size.height, size.width, CV_8U, out.row(0));
  const cv::Mat c(coarse.height(), coarse.width(), CV_8U, const_cast<std::uint8_t*>(coarse.row(0)));
  cv::resize(c, enlarged, enlarged.size(), 0, 0, cv::INTER_LINEAR);
  const cv::Mat before = enlarged.clone();
  constexpr int kTile = 128, kRadius = 5;
  std::vector<Rect> tiles;
  for (int y = 0; y < size.height; y += kTile) {
    for (int x = 0; x < size.width; x += kTile) {
      const Rect tile = Rect{x, y, kTile, kTile}.intersected(Rect::of(size)), seen = tile.grown(4).intersected(Rect::of(size));
      double low = 0, high = 0;
      cv::minMaxLoc(before(cv::Rect(seen.x, seen.y, seen.width, seen.height)), &low, &high);
      if (low < high) tiles.push_back(tile);
    }
  }
  std::vector<std::optional<base::Error>> errors(tiles.size());
  executor.forEach(int(tiles.size()), [&](int i) {
    const Rect wide = tiles[std::size_t(i)].grown(2 * kRadius);
    auto read = image::readFloat(picture, level, wide);
    if (!read.ok()) {
      errors[std::size_t(i)] = read.error();
      return;
    }
    const Raster<float> guide = image::rgbOf(std::move(read).value());
    Raster<float> values(wide.width, wide.height);
    for (int y = 0; y < wide.height; ++y) {
      for (int x = 0; x < wide.width; ++x) {
        *values.at(x, y) = float(before.at<std::uint8_t>(std::clamp(wide.y + y, 0, size.height - 1),
                                                         std::clamp(wide.x + x, 0, size.width - 1))) /
                           255.f;
      }
    }
    const Raster<float> filtered = guidedFilter(guide, values, kRadius, 2e-4);
    const Rect& tile = tiles[std::size_t(i)];
    for (int y = tile.y; y < tile.bottom(); ++y) {
      for (int x = tile.x; x < tile.right(); ++x) {
        // The filter softens; a selection wants a clear edge.
        const float v = (*filtered.at(x - wide.x, y - wide.y) - 0.5f) * 2.2f + 0.5f;
        *out.at(x, y) = std::uint8_t(std::lround(std::clamp(v, 0.f, 1.f) * 255));
      }
    }
  });
  for (const auto& e : errors) {
    if (e) return *e;
  }
  return out;
}

}  // namespace

base::Result<TiledImage> atFullSize(const TiledImage& picture, Raster<std::uint8_t> coarse, base::Executor& executor,
                                    const base::Progress& progress) try {
  int level = picture.levelCount() - 1;
  while (level > 0 && picture.level(level).size.width < coarse.width()) --level;
  const int first = level;
  for (; level >= 0; --level) {
    HSEAM_TRY(coarse, finer(picture, level, coarse, executor));
    progress.report(1 - double(level) / (first + 1));
    if (progress.cancelled()) return base::cancelledError();
  }
  return image::tiledFromRaster(coarse, image::PixelFormat::grey8, picture.memory(), executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::select
