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

// How far the half-way line lies from the centre of an edge pixel, on its way to the other side: what is missing in the
// neighbour over there and what is left in the pixel itself add up (after Gustavson & Strand 2011, "Anti-aliased Euclidean
// distance transform", for edges along the axes).
float edgeOffset(const cv::Mat& coverage, int x, int y, bool pixelInside) {
  float over = pixelInside ? 1.f : 0.f;  // the furthest value on the other side
  for (int k = 0; k < 9; ++k) {
    const int px = std::clamp(x + k % 3 - 1, 0, coverage.cols - 1), py = std::clamp(y + k / 3 - 1, 0, coverage.rows - 1);
    const float v = float(coverage.at<std::uint8_t>(py, px)) / 255.f;
    over = pixelInside ? std::min(over, v) : std::max(over, v);
  }
  const float own = float(coverage.at<std::uint8_t>(y, x)) / 255.f;
  return pixelInside ? own - 0.5f + over : 0.5f - own + (1 - over);
}

// Distances of the pixels where `mask` is set to the half-way line, through the nearest pixel beyond it.
cv::Mat distanceTo(const cv::Mat& coverage, const cv::Mat& mask, bool beyondIsInside) {
  cv::Mat distance, labels;
  cv::distanceTransform(mask, distance, labels, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
  std::vector<cv::Point> seeds(1);
  for (int y = 0; y < mask.rows; ++y) {
    for (int x = 0; x < mask.cols; ++x) {
      if (mask.at<std::uint8_t>(y, x)) continue;
      const auto label = std::size_t(labels.at<int>(y, x));
      if (label >= seeds.size()) seeds.resize(label + 1);
      seeds[label] = {x, y};
    }
  }
  // The transform names a near pixel, not always the nearest: neighbours tell each other of better ones, once down the
  // picture and once up.
  std::vector<float> offset(seeds.size());
  for (std::size_t i = 1; i < seeds.size(); ++i) offset[i] = edgeOffset(coverage, seeds[i].x, seeds[i].y, beyondIsInside);
  const auto from = [&](int label, int x, int y) {
    const auto i = std::size_t(label);
    return std::hypot(float(x - seeds[i].x), float(y - seeds[i].y)) - offset[i];
  };
  const auto ask = [&](int x, int y, int dx, int dy) {
    const int px = x + dx, py = y + dy;
    if (px < 0 || py < 0 || px >= mask.cols || py >= mask.rows) return;
    int& own = labels.at<int>(y, x);
    const int other = labels.at<int>(py, px);
    if (other != own && from(other, x, y) < from(own, x, y)) own = other;
  };
  for (int y = 0; y < mask.rows; ++y) {
    for (int x = 0; x < mask.cols; ++x) {
      if (mask.at<std::uint8_t>(y, x)) ask(x, y, -1, 0), ask(x, y, -1, -1), ask(x, y, 0, -1), ask(x, y, 1, -1);
    }
  }
  for (int y = mask.rows - 1; y >= 0; --y) {
    for (int x = mask.cols - 1; x >= 0; --x) {
      if (!mask.at<std::uint8_t>(y, x)) continue;
      ask(x, y, 1, 0), ask(x, y, 1, 1), ask(x, y, 0, 1), ask(x, y, -1, 1);
      distance.at<float>(y, x) = from(labels.at<int>(y, x), x, y);
    }
  }
  return distance;
}

// The distance of every pixel centre to the half-way line, positive inside.
cv::Mat signedDistance(const Raster<std::uint8_t>& coverage) {
  const cv::Mat c(coverage.height(), coverage.width(), CV_8U, const_cast<std::uint8_t*>(coverage.row(0)));
  const cv::Mat toOutside = distanceTo(c, c >= 128, false), toInside = distanceTo(c, c < 128, true);
  cv::Mat distance(c.size(), CV_32F);
  for (int y = 0; y < c.rows; ++y) {
    for (int x = 0; x < c.cols; ++x) {
      const std::uint8_t v = c.at<std::uint8_t>(y, x);
      const float plain = v >= 128 ? toOutside.at<float>(y, x) : -toInside.at<float>(y, x);
      const float exact = float(v) / 255.f - 0.5f;
      distance.at<float>(y, x) = std::abs(plain) <= 1 && v > 0 && v < 255 ? exact : plain;
    }
  }
  return distance;
}

}  // namespace

base::Result<TiledImage> widened(const TiledImage& coverage, double px, base::Executor& executor) {
  const Rect edge = edgeArea(coverage);
  if (edge.empty() || px == 0) return coverage;
  const Rect area = edge.grown(int(std::ceil(std::abs(px))) + 3).intersected(Rect::of(coverage.size()));
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
  const Rect edge = edgeArea(coverage);
  if (edge.empty() || sigmaPx <= 0) return coverage;
  const Rect area = edge.grown(reach).intersected(Rect::of(coverage.size()));
  // Read with surroundings, so that the blur at the area's own border is right.
  const Rect wide = area.grown(reach);
  HSEAM_TRY(Raster<std::uint8_t> values, image::read8(coverage, 0, wide));
  cv::Mat m(wide.height, wide.width, CV_8U, values.row(0)), f;
  m.convertTo(f, CV_32F);
  cv::GaussianBlur(f, f, cv::Size(2 * reach + 1, 2 * reach + 1), sigmaPx, sigmaPx, cv::BORDER_REPLICATE);
  Raster<std::uint8_t> out(area.width, area.height);
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x)
      *out.at(x, y) = std::uint8_t(std::lround(std::clamp(f.at<float>(y + reach, x + reach), 0.f, 255.f)));
  }
  return image::withPixels(coverage, area, out, executor);
}

}  // namespace hseam::select
