#include "core/select/edge_ways.h"

#include <algorithm>
#include <cmath>
#include <new>
#include <opencv2/imgproc.hpp>
#include <opencv2/imgproc/segmentation.hpp>

namespace hseam::select {
namespace {

using base::Point;
using base::Rect;

constexpr int kReach = 450;  // px of the level

cv::Mat codesOf(const image::Raster<float>& r) {
  cv::Mat out(r.height(), r.width(), CV_8UC3);
  const int last = r.channels() - 1;
  for (int y = 0; y < out.rows; ++y) {
    for (int x = 0; x < out.cols; ++x) {
      for (int c = 0; c < 3; ++c)
        out.at<cv::Vec3b>(y, x)[c] = std::uint8_t(std::lround(std::clamp(r.at(x, y)[std::min(c, last)], 0.f, 1.f) * 255));
    }
  }
  return out;
}

}  // namespace

struct EdgeWays::Search {
  cv::segmentation::IntelligentScissorsMB ways;
  Rect area;  // px of the level
};

std::vector<Point> EdgeWays::to(Point target) const {
  const double scale = double(1 << level_);
  const Rect& a = search_->area;
  const cv::Point end(std::clamp(int(std::floor(target.x / scale)) - a.x, 0, a.width - 1),
                      std::clamp(int(std::floor(target.y / scale)) - a.y, 0, a.height - 1));
  std::vector<cv::Point> steps;
  search_->ways.getContour(end, steps);
  std::vector<Point> out;
  out.reserve(steps.size() + 2);
  out.push_back(from_);
  // The ends are where the pointer was, not the middles of pixels of a level.
  for (std::size_t i = 1; i + 1 < steps.size(); ++i)
    out.push_back({(steps[i].x + a.x + 0.5) * scale, (steps[i].y + a.y + 0.5) * scale});
  out.push_back(target);
  return out;
}

base::Result<EdgeWays> edgeWays(const image::TiledImage& picture, Point from, int level, const base::Progress& progress) try {
  level = std::clamp(level, 0, picture.levelCount() - 1);
  const double scale = double(1 << level);
  const Rect whole = Rect::of(picture.level(level).size);
  const int x = int(std::floor(from.x / scale)), y = int(std::floor(from.y / scale));
  if (!whole.contains(x, y)) return base::Error{base::Code::invalid, "", "an outline along edges starts inside the picture"};
  EdgeWays made;
  auto search = std::make_shared<EdgeWays::Search>();
  search->area = Rect{x - kReach, y - kReach, 2 * kReach + 1, 2 * kReach + 1}.intersected(whole);
  HSEAM_TRY(const image::Raster<float> near, image::readFloat(picture, level, search->area));
  if (progress.cancelled()) return base::cancelledError();
  cv::Mat codes = codesOf(near);
  cv::GaussianBlur(codes, codes, {}, 0.8);  // grain is no edge
  search->ways.setEdgeFeatureCannyParameters(24, 80, 3, true).setGradientMagnitudeMaxLimit(160);
  search->ways.applyImage(codes);
  progress.report(0.3);
  if (progress.cancelled()) return base::cancelledError();
  search->ways.buildMap(cv::Point(x - search->area.x, y - search->area.y));
  made.from_ = from;
  made.level_ = level;
  const Rect& a = search->area;
  made.area_ = Rect{a.x << level, a.y << level, a.width << level, a.height << level}.intersected(Rect::of(picture.size()));
  made.search_ = std::move(search);
  progress.report(1);
  return made;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::select
