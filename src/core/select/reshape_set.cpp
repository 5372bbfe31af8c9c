// Reshaping that is put together from moving the edge and softening it, and the dropping of islands.

#include <algorithm>
#include <array>
#include <cmath>
#include <new>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "core/select/reshape.h"

namespace hseam::select {
namespace {

using image::TiledImage;

// A new coverage from the pixels of one or two (b may be null: zero), tile by tile.
template <class F>
base::Result<TiledImage> pixelwise(const TiledImage& a, const TiledImage& b, const F& f, base::Executor& executor) {
  image::ImageEditor editor(a);
  const auto& level = a.level(0);
  for (int row = 0; row < level.rows; ++row) {
    for (int column = 0; column < level.columns; ++column) {
      HSEAM_TRY(const image::TilePin p, image::pin(level.tile(column, row)));
      image::Bytes bytes(image::kTilePixels);
      if (b.isNull()) {
        for (std::size_t i = 0; i < bytes.size(); ++i)
          bytes[i] = std::byte(f(std::to_integer<int>(p.isUniform() ? *p.value() : p.data()[i]), 0));
      } else {
        HSEAM_TRY(const image::TilePin q, image::pin(b.level(0).tile(column, row)));
        for (std::size_t i = 0; i < bytes.size(); ++i)
          bytes[i] = std::byte(f(std::to_integer<int>(p.isUniform() ? *p.value() : p.data()[i]),
                                 std::to_integer<int>(q.isUniform() ? *q.value() : q.data()[i])));
      }
      editor.setTile(column, row, std::move(bytes));
    }
  }
  return std::move(editor).commit(executor);
}

}  // namespace

base::Result<TiledImage> rounded(const TiledImage& coverage, double px, base::Executor& executor) {
  // A Gaussian spreads an edge to a slope of 1/(σ·√(2π)) a px: so much steeper makes it one px wide again.
  const double sigma = std::max(0.5, px / 2), steep = sigma * std::sqrt(2 * std::numbers::pi);
  HSEAM_TRY(const TiledImage soft, softened(coverage, sigma, executor));
  std::array<std::uint8_t, 256> table;
  for (int v = 0; v < 256; ++v)
    table[std::size_t(v)] = std::uint8_t(std::lround(std::clamp((v - 127.5) * steep + 127.5, 0.0, 255.0)));
  return pixelwise(
      soft, {}, [&](int v, int) { return table[std::size_t(v)]; }, executor);
}

base::Result<TiledImage> ring(const TiledImage& coverage, double px, base::Executor& executor) {
  HSEAM_TRY(const TiledImage outer, widened(coverage, px / 2, executor));
  HSEAM_TRY(const TiledImage inner, widened(coverage, -px / 2, executor));
  return pixelwise(
      outer, inner, [](int a, int b) { return std::uint8_t(std::min(a, 255 - b)); }, executor);
}

base::Result<TiledImage> gapsClosed(const TiledImage& coverage, double px, base::Executor& executor) {
  HSEAM_TRY(const TiledImage wide, widened(coverage, px / 2, executor));
  HSEAM_TRY(const TiledImage back, widened(wide, -px / 2, executor));
  // Out and in again may cost a trace at sharp corners: what was chosen stays chosen.
  return pixelwise(
      back, coverage, [](int a, int b) { return std::uint8_t(std::max(a, b)); }, executor);
}

base::Result<TiledImage> withoutIslands(const TiledImage& coverage, double areaPx, base::Executor& executor) try {
  const base::Size size = coverage.size();
  HSEAM_TRY(image::Raster<std::uint8_t> px, image::read8(coverage, 0, base::Rect::of(size)));
  // Any trace of coverage hangs together, so that an island goes with its soft rim; its area counts by coverage.
  cv::Mat chosen(size.height, size.width, CV_8U), labels;
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) chosen.at<std::uint8_t>(y, x) = *px.at(x, y) >= 16;
  }
  const int count = cv::connectedComponents(chosen, labels, 8, CV_32S);
  std::vector<double> area(std::size_t(count), 0);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) area[std::size_t(labels.at<int>(y, x))] += *px.at(x, y) / 255.0;
  }
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      const int label = labels.at<int>(y, x);
      if (label == 0 || area[std::size_t(label)] < areaPx) *px.at(x, y) = 0;
    }
  }
  return image::tiledFromRaster(px, image::PixelFormat::grey8, coverage.memory(), executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::select
