#include "core/frames/offsets.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/level.h"
#include "core/image/rgb.h"

namespace hseam::frames {
namespace {

using image::Raster;
using image::TiledImage;

constexpr double kOffsetPixels = 1.5e5;
constexpr float kLargest = 0.06f;     // a larger step is no matter of tone: something else is there
constexpr double kReachShare = 0.02;  // of the longer side

// What steps of tone are looked for in.
struct OnLevel {
  std::vector<Raster<float>> colours;
  std::vector<Raster<float>> alpha;  // 0 where what the frame shows is no evidence of its tone
  Raster<std::uint8_t> own;          // the label under the middle of each pixel
};
base::Result<OnLevel> onLevel(const std::vector<Frame>& frames, const TiledImage& labels, int level) {
  const base::Size size = frames[0].picture().level(level).size;
  OnLevel out;
  for (const Frame& f : frames) {
    HSEAM_TRY(Raster<float> read, f.read(level, base::Rect::of(size)));
    Raster<float> a(size.width, size.height, 1, 1);
    for (std::size_t i = 0; read.channels() == 4 && i < read.pixels(); ++i) a.samples()[i] = read.samples()[i * 4 + 3];
    HSEAM_TRY(const auto cut, f.cutOff(level, base::Rect::of(size)));
    for (std::size_t i = 0; i < cut.pixels(); ++i) a.samples()[i] = std::min(a.samples()[i], 1 - float(cut.samples()[i]) / 255);
    out.colours.push_back(image::rgbOf(std::move(read)));
    out.alpha.push_back(std::move(a));
  }
  HSEAM_TRY(const auto all, image::read8(labels, 0, base::Rect::of(labels.size())));
  out.own = Raster<std::uint8_t>(size.width, size.height, 1);
  const int k = 1 << level;
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x)
      *out.own.at(x, y) = *all.at(std::min(x * k + k / 2, all.width() - 1), std::min(y * k + k / 2, all.height() - 1));
  }
  return out;
}

}  // namespace

std::array<float, 3> Offsets::at(std::size_t frame, int x, int y) const {
  const Raster<float>& r = byFrame_[frame];
  if (r.empty()) return {};
  const double k = double(1 << shift_), u = (x + 0.5) / k - 0.5, v = (y + 0.5) / k - 0.5;
  const int ix = std::clamp(int(std::floor(u)), 0, r.width() - 1), iy = std::clamp(int(std::floor(v)), 0, r.height() - 1);
  const int jx = std::min(ix + 1, r.width() - 1), jy = std::min(iy + 1, r.height() - 1);
  const float wx = float(std::clamp(u - ix, 0.0, 1.0)), wy = float(std::clamp(v - iy, 0.0, 1.0));
  std::array<float, 3> out{};
  for (int c = 0; c < 3; ++c)
    out[std::size_t(c)] =
        (1 - wy) * ((1 - wx) * r.at(ix, iy)[c] + wx * r.at(jx, iy)[c]) + wy * ((1 - wx) * r.at(ix, jy)[c] + wx * r.at(jx, jy)[c]);
  return out;
}

base::Result<Offsets> offsetsOf(const std::vector<Frame>& frames, const TiledImage& labels) {
  Offsets out;
  out.byFrame_.resize(frames.size());
  const int level = image::levelOfAtMost(frames[0].picture(), kOffsetPixels);
  out.shift_ = level;
  const base::Size size = frames[0].picture().level(level).size;
  HSEAM_TRY(const OnLevel seen, onLevel(frames, labels, level));
  const auto& [colours, alpha, own] = seen;
  const double reach = std::max(2.0, kReachShare * std::max(size.width, size.height));
  for (std::size_t f = 0; f < frames.size(); ++f) {
    cv::Mat sum(size.height, size.width, CV_32FC3, cv::Scalar::all(0)), weight(size.height, size.width, CV_32F, cv::Scalar(0));
    bool any = false;
    for (int y = 0; y < size.height; ++y) {
      for (int x = 0; x < size.width; ++x) {
        if (*own.at(x, y) != f + 1) continue;
        for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
          const int u = x + dx, v = y + dy;
          if (u < 0 || v < 0 || u >= size.width || v >= size.height || *own.at(u, v) == f + 1) continue;
          const std::size_t other = std::size_t(*own.at(u, v)) - 1;
          if (*alpha[other].at(x, y) < 0.999f || *alpha[f].at(x, y) < 0.999f) continue;
          std::array<float, 3> step{};
          float largest = 0;
          for (int c = 0; c < 3; ++c) {
            step[std::size_t(c)] = (colours[other].at(x, y)[c] - colours[f].at(x, y)[c]) / 2;
            largest = std::max(largest, std::abs(step[std::size_t(c)]));
          }
          if (largest > kLargest) continue;
          auto& s = sum.at<cv::Vec3f>(y, x);
          for (int c = 0; c < 3; ++c) s[c] += step[std::size_t(c)];
          weight.at<float>(y, x) += 1;
          any = true;
        }
      }
    }
    if (!any) continue;
    // Nearby seams say it (normalised convolution, Knutsson and Westin 1993), and it fades with the distance to them.
    cv::Mat near, blurred, blurredWeight;
    cv::Mat isSeam = weight == 0;
    cv::distanceTransform(isSeam, near, cv::DIST_L2, 5);
    cv::GaussianBlur(sum, blurred, {}, reach / 2);
    cv::GaussianBlur(weight, blurredWeight, {}, reach / 2);
    Raster<float> offsets(size.width, size.height, 3);
    for (int y = 0; y < size.height; ++y) {
      for (int x = 0; x < size.width; ++x) {
        const float w = blurredWeight.at<float>(y, x), fade = std::exp(-near.at<float>(y, x) / float(reach));
        if (w < 1e-6f) continue;
        for (int c = 0; c < 3; ++c) offsets.at(x, y)[c] = blurred.at<cv::Vec3f>(y, x)[c] / w * fade;
      }
    }
    out.byFrame_[f] = std::move(offsets);
  }
  return out;
}

}  // namespace hseam::frames
