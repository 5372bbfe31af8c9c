#include "matte_errors.h"

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/matte/trimap.h"

namespace hseam::bench {
namespace {

cv::Mat asMat(const image::Raster<float>& r) {
  return cv::Mat(r.height(), r.width(), CV_32F, const_cast<float*>(r.row(0)));
}

cv::Mat gradientSize(const cv::Mat& m) {
  constexpr double sigma = 1.4;
  const int reach = 5;
  cv::Mat smooth(1, 2 * reach + 1, CV_32F), slope(1, 2 * reach + 1, CV_32F);
  double sum = 0;
  for (int i = -reach; i <= reach; ++i) {
    const double g = std::exp(-i * i / (2 * sigma * sigma));
    smooth.at<float>(i + reach) = float(g);
    slope.at<float>(i + reach) = float(-i / (sigma * sigma) * g);
    sum += g;
  }
  smooth /= sum;
  slope /= sum;
  cv::Mat dx, dy, size;
  cv::sepFilter2D(m, dx, CV_32F, slope, smooth, cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
  cv::sepFilter2D(m, dy, CV_32F, smooth, slope, cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
  cv::magnitude(dx, dy, size);
  return size;
}

// The largest region in which both are at least t.
cv::Mat commonRegion(const cv::Mat& a, const cv::Mat& b, double t) {
  const cv::Mat both = (a >= t) & (b >= t);
  cv::Mat labels, stats, centres;
  const int n = cv::connectedComponentsWithStats(both, labels, stats, centres, 4);
  int best = 0, area = 0;
  for (int i = 1; i < n; ++i) {
    if (stats.at<int>(i, cv::CC_STAT_AREA) > area) best = i, area = stats.at<int>(i, cv::CC_STAT_AREA);
  }
  return best == 0 ? cv::Mat(cv::Mat::zeros(a.size(), CV_8U)) : cv::Mat(labels == best);
}

}  // namespace

MatteErrors matteErrors(const image::Raster<float>& alpha, const image::Raster<float>& truth,
                        const image::Raster<std::uint8_t>& band) {
  const cv::Mat a = asMat(alpha), t = asMat(truth), ga = gradientSize(a), gt = gradientSize(t);
  cv::Mat level(a.size(), CV_32F, cv::Scalar(-1));
  for (double threshold = 0; threshold <= 1.0001; threshold += 0.1) {
    const cv::Mat region = commonRegion(a, t, threshold);
    for (int y = 0; y < a.rows; ++y) {
      for (int x = 0; x < a.cols; ++x) {
        if (!region.at<std::uint8_t>(y, x) && level.at<float>(y, x) < 0)
          level.at<float>(y, x) = float(std::max(0.0, threshold - 0.1));
      }
    }
  }
  MatteErrors e;
  double count = 0;
  for (int y = 0; y < a.rows; ++y) {
    for (int x = 0; x < a.cols; ++x) {
      if (matte::knownOf(*band.at(x, y)) != matte::Known::undecided) continue;
      const double d = a.at<float>(y, x) - t.at<float>(y, x), g = ga.at<float>(y, x) - gt.at<float>(y, x);
      const double l = level.at<float>(y, x) < 0 ? 1 : level.at<float>(y, x);
      const auto connected = [&](double v) { return v - l >= 0.15 ? 1 - (v - l) : 1.0; };
      e.sad += std::abs(d) / 1000;
      e.mse += d * d * 1000;
      e.gradient += g * g / 1000;
      e.connectivity += std::abs(connected(a.at<float>(y, x)) - connected(t.at<float>(y, x))) / 1000;
      ++count;
    }
  }
  e.mse /= std::max(1.0, count);
  return e;
}

}  // namespace hseam::bench
