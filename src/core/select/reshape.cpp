#include "core/select/reshape.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::select {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

// All tiles that are not one value, or differ from a neighbour: only there is an edge.
Rect edgeArea(const TiledImage& image) {
  const auto& level = image.level(0);
  Rect area;
  const auto value = [&](int c, int r) { return int(std::uint8_t((*level.tile(c, r)->uniform())[0])); };
  for (int r = 0; r < level.rows; ++r) {
    for (int c = 0; c < level.columns; ++c) {
      bool edge = !level.tile(c, r)->uniform();
      if (!edge && c + 1 < level.columns && level.tile(c + 1, r)->uniform()) edge = value(c, r) != value(c + 1, r);
      if (!edge && r + 1 < level.rows && level.tile(c, r + 1)->uniform()) edge = value(c, r) != value(c, r + 1);
      if (edge) area = area.united({c * image::kTileSide, r * image::kTileSide, image::kTileSide, image::kTileSide});
    }
  }
  return area.intersected(Rect::of(image.size()));
}

// The distance of every pixel centre to the half-way line, positive inside. Between pixel centres the line's place follows
// from the coverage itself, so that an edge that is soft by one px keeps its sub-pixel place.
cv::Mat signedDistance(const Raster<std::uint8_t>& coverage) {
  const cv::Mat c(coverage.height(), coverage.width(), CV_8U, const_cast<std::uint8_t*>(coverage.row(0)));
  cv::Mat toOutside, toInside;
  cv::distanceTransform(c >= 128, toOutside, cv::DIST_L2, cv::DIST_MASK_PRECISE);
  cv::distanceTransform(c < 128, toInside, cv::DIST_L2, cv::DIST_MASK_PRECISE);
  cv::Mat distance(c.size(), CV_32F);
  for (int y = 0; y < c.rows; ++y) {
    for (int x = 0; x < c.cols; ++x) {
      const std::uint8_t v = c.at<std::uint8_t>(y, x);
      const float plain = v >= 128 ? toOutside.at<float>(y, x) - 0.5f : 0.5f - toInside.at<float>(y, x);
      const float exact = float(v) / 255.f - 0.5f;
      distance.at<float>(y, x) = std::abs(plain) <= 0.5f && v > 0 && v < 255 ? exact : plain;
    }
  }
  return distance;
}

}  // namespace

base::Result<TiledImage> widened(const TiledImage& coverage, double px, base::Executor& executor) {
  const Rect area = edgeArea(coverage).grown(int(std::ceil(std::abs(px))) + 3).intersected(Rect::of(coverage.size()));
  if (area.empty() || px == 0) return coverage;
  HSEAM_TRY(Raster<std::uint8_t> values, image::read8(coverage, 0, area));
  const cv::Mat distance = signedDistance(values);
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const float inside = std::clamp(distance.at<float>(y, x) + float(px) + 0.5f, 0.f, 1.f);
      *values.at(x, y) = std::uint8_t(std::lround(inside * 255));
    }
  }
  return image::withPixels(coverage, area, values, executor);
}

base::Result<TiledImage> softened(const TiledImage& coverage, double sigmaPx, base::Executor& executor) {
  const int reach = int(std::ceil(3 * sigmaPx)) + 1;
  const Rect area = edgeArea(coverage).grown(reach).intersected(Rect::of(coverage.size()));
  if (area.empty() || sigmaPx <= 0) return coverage;
  // Read with surroundings, so that the blur at the area's own border is right.
  const Rect wide = area.grown(reach);
  HSEAM_TRY(Raster<std::uint8_t> values, image::read8(coverage, 0, wide));
  cv::Mat m(wide.height, wide.width, CV_8U, values.row(0)), f;
  m.convertTo(f, CV_32F);
  cv::GaussianBlur(f, f, cv::Size(2 * reach + 1, 2 * reach + 1), sigmaPx, sigmaPx, cv::BORDER_REPLICATE);
  Raster<std::uint8_t> out(area.width, area.height);
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) *out.at(x, y) = std::uint8_t(std::lround(std::clamp(f.at<float>(y + reach, x + reach), 0.f, 255.f)));
  }
  return image::withPixels(coverage, area, out, executor);
}

}  // namespace hseam::select
