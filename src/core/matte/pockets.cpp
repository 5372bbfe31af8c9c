#include "core/matte/pockets.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;

// Distances of encoded colours, 0..√3.
constexpr float kMixed = 0.70f;        // share of the subject below which a pixel counts as mixed
constexpr float kOffTheLine = 0.12f;   // a mixture's colour to the line between the two means
constexpr float kSureColour = 0.045f;  // the same, for the middle of a pocket
constexpr float kEven = 0.06f;         // the background's standard deviation
constexpr float kOtherColour = 0.20f;  // the subject's mean to the background's
constexpr int kCrowdPx = 15;
constexpr double kCrowded = 0.3;  // of the pixels in a window of that side
constexpr int kLevel = 2;         // where means are taken

// Means of one side over a window, and how much its colours spread.
struct Surroundings {
  cv::Mat mean;    // CV_32FC3
  cv::Mat spread;  // CV_32F
  cv::Mat share;   // CV_32F: how much of the window belongs to the side
};

Surroundings surroundingsOf(const cv::Mat& rgb, const cv::Mat& side, int window) {
  Surroundings s;
  cv::Mat mask3, colours, squares, mean2;
  cv::merge(std::vector<cv::Mat>{side, side, side}, mask3);
  cv::multiply(rgb, mask3, colours);
  cv::multiply(colours, rgb, squares);
  const cv::Size size(window, window);
  cv::boxFilter(side, s.share, CV_32F, size);
  cv::boxFilter(colours, s.mean, CV_32F, size);
  cv::boxFilter(squares, mean2, CV_32F, size);
  s.spread = cv::Mat(rgb.size(), CV_32F);
  for (int y = 0; y < rgb.rows; ++y) {
    for (int x = 0; x < rgb.cols; ++x) {
      const float n = std::max(1e-6f, s.share.at<float>(y, x));
      cv::Vec3f& m = s.mean.at<cv::Vec3f>(y, x);
      m /= n;
      const cv::Vec3f q = mean2.at<cv::Vec3f>(y, x) / n;
      float variance = 0;
      for (int c = 0; c < 3; ++c) variance += std::max(0.f, q[c] - m[c] * m[c]);
      s.spread.at<float>(y, x) = std::sqrt(variance);
    }
  }
  return s;
}

float distance(const cv::Vec3f& a, const cv::Vec3f& b) {
  return float(cv::norm(a - b));
}

bool isMixture(const cv::Vec3f& c, const cv::Vec3f& subject, const cv::Vec3f& background) {
  const cv::Vec3f axis = subject - background;
  const float share = std::clamp((c - background).dot(axis) / axis.dot(axis), 0.f, 1.f);
  return share < kMixed && distance(c, background + axis * share) < kOffTheLine;
}

}  // namespace

base::Result<image::TiledImage> openPockets(const image::TiledImage& band, const image::TiledImage& picture, double reachPx,
                                            base::Executor& executor, const base::Progress& progress) {
  const int level = std::min(kLevel, picture.levelCount() - 1);
  const base::Size small = picture.level(level).size;
  HSEAM_TRY(const Raster<float> colours, image::readFloat(picture, level, Rect::of(small)));
  HSEAM_TRY(const Raster<std::uint8_t> labels, image::read8(band, level, Rect::of(small)));
  cv::Mat rgb(small.height, small.width, CV_32FC3), background(rgb.size(), CV_32F), subject(rgb.size(), CV_32F),
      inside(rgb.size(), CV_8U);
  for (int y = 0; y < small.height; ++y) {
    for (int x = 0; x < small.width; ++x) {
      const float* c = colours.at(x, y);
      rgb.at<cv::Vec3f>(y, x) = {c[0], c[1], c[2]};
      // Levels average labels: only pure pixels count for a side.
      const std::uint8_t v = *labels.at(x, y);
      background.at<float>(y, x) = v == kBackground ? 1.f : 0.f;
      subject.at<float>(y, x) = v == kSubject ? 1.f : 0.f;
      inside.at<std::uint8_t>(y, x) = v > 192 ? 255 : 0;
    }
  }
  progress.report(0.2);
  const int reach = std::max(2, int(reachPx) >> level);
  const Surroundings behind = surroundingsOf(rgb, background, 4 * reach + 1), own = surroundingsOf(rgb, subject, 2 * reach + 1);
  cv::Mat depth;
  cv::distanceTransform(inside, depth, cv::DIST_L2, cv::DIST_MASK_5);
  progress.report(0.5);
  if (progress.cancelled()) return base::cancelledError();

  // Where a pocket may be at all, then pixel by pixel at full size.
  Rect area;
  cv::Mat possible(rgb.size(), CV_8U, cv::Scalar(0));
  for (int y = 0; y < small.height; ++y) {
    for (int x = 0; x < small.width; ++x) {
      if (!inside.at<std::uint8_t>(y, x) || depth.at<float>(y, x) > float(reach)) continue;
      if (behind.share.at<float>(y, x) < 0.02f || behind.spread.at<float>(y, x) > kEven) continue;
      if (distance(own.mean.at<cv::Vec3f>(y, x), behind.mean.at<cv::Vec3f>(y, x)) < kOtherColour) continue;
      possible.at<std::uint8_t>(y, x) = 255;
      area = area.united({x, y, 1, 1});
    }
  }
  if (area.empty()) return band;
  area = area.finer(level).grown(8).intersected(Rect::of(picture.size()));
  HSEAM_TRY(const Raster<float> fine, image::readFloat(picture, 0, area));
  HSEAM_TRY(Raster<std::uint8_t> now, image::read8(band, 0, area));
  cv::Mat pocket(area.height, area.width, CV_8U, cv::Scalar(0)), sure = pocket.clone();
  executor.forEach(area.height, [&](int y) {
    for (int x = 0; x < area.width; ++x) {
      const int sx = std::min((area.x + x) >> level, small.width - 1), sy = std::min((area.y + y) >> level, small.height - 1);
      if (!possible.at<std::uint8_t>(sy, sx) || knownOf(*now.at(x, y)) != Known::subject) continue;
      const float* c = fine.at(x, y);
      const float d = distance({c[0], c[1], c[2]}, behind.mean.at<cv::Vec3f>(sy, sx));
      if (d < kSureColour || isMixture({c[0], c[1], c[2]}, own.mean.at<cv::Vec3f>(sy, sx), behind.mean.at<cv::Vec3f>(sy, sx)))
        pocket.at<std::uint8_t>(y, x) = 255;
      if (d < kSureColour) sure.at<std::uint8_t>(y, x) = 255;
    }
  });
  progress.report(0.8);
  // A single light strand is mixed as well by its colour; a pocket is where much is.
  cv::Mat crowd;
  cv::boxFilter(pocket, crowd, CV_32F, cv::Size(kCrowdPx, kCrowdPx));
  pocket &= crowd > 255 * kCrowded;
  if (cv::countNonZero(pocket) == 0) return band;
  // A pixel whose neighbours all agree is background: without it the solver would see no background from inside a pocket.
  cv::erode(sure & pocket, sure, cv::Mat::ones(3, 3, CV_8U));
  cv::dilate(pocket, pocket, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(7, 7)));
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      if (!pocket.at<std::uint8_t>(y, x) || knownOf(*now.at(x, y)) != Known::subject) continue;
      *now.at(x, y) = sure.at<std::uint8_t>(y, x) ? kBackground : kUndecided;
    }
  }
  progress.report(1);
  return image::withPixels(band, area, now, executor);
}

}  // namespace hseam::matte
