#include "core/select/pieces.h"

#include <algorithm>
#include <new>
#include <numeric>
#include <opencv2/imgproc.hpp>

namespace hseam::select {

using base::Rect;
using image::Raster;
using image::TiledImage;

base::Result<Pieces> pieces(const TiledImage& coverage, double leastAreaPx) try {
  const Rect all = Rect::of(coverage.size());
  HSEAM_TRY(Raster<std::uint8_t> values, image::read8(coverage, 0, all));
  const cv::Mat grey(all.height, all.width, CV_8U, values.row(0));
  cv::Mat solid, labels, stats, centres;
  cv::threshold(grey, solid, 127, 255, cv::THRESH_BINARY);
  const int n = cv::connectedComponentsWithStats(solid, labels, stats, centres, 8, CV_32S);
  const auto area = [&](int label) { return stats.at<int>(label, cv::CC_STAT_AREA); };
  std::vector<int> large;
  for (int i = 1; i < n; ++i) {
    if (area(i) >= leastAreaPx) large.push_back(i);
  }
  if (large.empty()) return base::Error{base::Code::invalid, "", "nothing that is covered is large enough to stand by itself"};
  std::sort(large.begin(), large.end(), [&](int a, int b) { return area(a) != area(b) ? area(a) > area(b) : a < b; });
  if (int(large.size()) > kMostPieces) large.resize(kMostPieces);
  Pieces out;
  std::vector<std::uint8_t> indexOf(std::size_t(n), 255);
  for (const int label : large) {
    indexOf[std::size_t(label)] = std::uint8_t(out.areaPx.size());
    out.areaPx.push_back(area(label));
  }
  // The distance transform names the nearest zero pixel's component: of the large pieces alone.
  cv::Mat others(all.height, all.width, CV_8U), distance, nearest;
  for (int y = 0; y < all.height; ++y) {
    for (int x = 0; x < all.width; ++x)
      others.at<std::uint8_t>(y, x) = indexOf[std::size_t(labels.at<int>(y, x))] == 255 ? 255 : 0;
  }
  cv::distanceTransform(others, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_CCOMP);
  // Its numbers are its own: each is met on a piece.
  std::vector<std::uint8_t> pieceOf;
  for (int y = 0; y < all.height; ++y) {
    for (int x = 0; x < all.width; ++x) {
      if (others.at<std::uint8_t>(y, x)) continue;
      const auto k = std::size_t(nearest.at<int>(y, x));
      if (pieceOf.size() <= k) pieceOf.resize(k + 1, 0);
      pieceOf[k] = indexOf[std::size_t(labels.at<int>(y, x))];
    }
  }
  out.nearest = Raster<std::uint8_t>(all.width, all.height);
  for (int y = 0; y < all.height; ++y) {
    for (int x = 0; x < all.width; ++x) *out.nearest.at(x, y) = pieceOf[std::size_t(nearest.at<int>(y, x))];
  }
  return out;
} catch (...) {
  return base::caught();
}

base::Result<TiledImage> onlyPiece(const TiledImage& image, const Pieces& pieces, int index, std::uint8_t elsewhere,
                                   base::Executor& executor) {
  if (image.isNull()) return image;
  CORE_CHECK(image.size() == (base::Size{pieces.nearest.width(), pieces.nearest.height()}));
  HSEAM_TRY(Raster<std::uint8_t> values, image::read8(image, 0, Rect::of(image.size())));
  for (std::size_t i = 0; i < values.samples().size(); ++i) {
    if (pieces.nearest.samples()[i] != index) values.samples()[i] = elsewhere;
  }
  return image::tiledFromRaster(values, image::PixelFormat::grey8, image.memory(), executor);
}

}  // namespace hseam::select
