#include "core/matte/nearest_place.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::matte {

NearestPlace::NearestPlace(const Unrolled& outline, base::Size picture)
    : outline_(outline), across_(picture.width / kCell + 1), down_(picture.height / kCell + 1) {
  cells_.resize(std::size_t(across_) * std::size_t(down_));
  for (std::size_t i = 0; i < outline.places.size(); ++i) {
    const base::Point p = outline.places[i].at;
    const int x = std::clamp(int(p.x) / kCell, 0, across_ - 1), y = std::clamp(int(p.y) / kCell, 0, down_ - 1);
    cells_[std::size_t(y) * std::size_t(across_) + std::size_t(x)].push_back(int(i));
  }
}

std::vector<int> NearestPlace::within(const base::Rect& area) const {
  std::vector<int> found;
  const auto cell = [](int v, int count) { return std::clamp(v / kCell, 0, count - 1); };
  for (int y = cell(area.y, down_); y <= cell(area.bottom() - 1, down_); ++y) {
    for (int x = cell(area.x, across_); x <= cell(area.right() - 1, across_); ++x) {
      for (const int i : cells_[std::size_t(y) * std::size_t(across_) + std::size_t(x)]) {
        const base::Point p = outline_.places[std::size_t(i)].at;
        if (area.contains(int(std::floor(p.x)), int(std::floor(p.y)))) found.push_back(i);
      }
    }
  }
  return found;
}

image::Raster<int> NearestPlace::of(const base::Rect& area, int reachPx) const {
  image::Raster<int> out(area.width, area.height);
  std::fill(out.samples().begin(), out.samples().end(), -1);
  const base::Rect around = area.grown(reachPx);
  const std::vector<int> near = within(around);
  if (near.empty()) return out;
  cv::Mat away(around.height, around.width, CV_8U, cv::Scalar(255)), places(around.height, around.width, CV_32S, cv::Scalar(-1));
  for (const int i : near) {
    const base::Point p = outline_.places[std::size_t(i)].at;
    const int x = int(std::floor(p.x)) - around.x, y = int(std::floor(p.y)) - around.y;
    away.at<std::uint8_t>(y, x) = 0;
    places.at<int>(y, x) = i;
  }
  cv::Mat distance, labels;
  cv::distanceTransform(away, distance, labels, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
  double most = 0;
  cv::minMaxLoc(labels, nullptr, &most);
  std::vector<int> placeOf(std::size_t(most) + 1, -1);
  for (int y = 0; y < around.height; ++y) {
    for (int x = 0; x < around.width; ++x) {
      if (away.at<std::uint8_t>(y, x) == 0) placeOf[std::size_t(labels.at<int>(y, x))] = places.at<int>(y, x);
    }
  }
  for (int y = 0; y < area.height; ++y) {
    const int ay = y + area.y - around.y;
    for (int x = 0; x < area.width; ++x) {
      const int ax = x + area.x - around.x;
      if (distance.at<float>(ay, ax) <= float(reachPx)) *out.at(x, y) = placeOf[std::size_t(labels.at<int>(ay, ax))];
    }
  }
  return out;
}

Across acrossAt(const Unrolled::Place& place, double x, double y) {
  const double dx = x - place.at.x, dy = y - place.at.y;
  return {dx * place.outward.x + dy * place.outward.y, dx * -place.outward.y + dy * place.outward.x};
}

}  // namespace hseam::matte
