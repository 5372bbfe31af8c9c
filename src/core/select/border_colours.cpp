#include "core/select/border_colours.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace hseam::select {

namespace {

constexpr int kMixtures = 6;

int rimOf(const cv::Mat& m) {
  return std::max(2, std::min(m.cols, m.rows) / 40);
}
bool onRim(const cv::Mat& m, int x, int y) {
  const int rim = rimOf(m);
  return x < rim || y < rim || x >= m.cols - rim || y >= m.rows - rim;
}

// How far each pixel's colour is from the nearest of the border's, CV_8U, thirds of a unit.
cv::Mat distanceToBorder(const cv::Mat& lab) {
  std::vector<cv::Vec3f> border;
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      if (onRim(lab, x, y)) border.push_back(lab.at<cv::Vec3f>(y, x));
    }
  }
  cv::Mat labels, centres;
  cv::theRNG().state = 1;
  cv::kmeans(cv::Mat(int(border.size()), 3, CV_32F, border.data()), std::min(kMixtures, int(border.size())), labels,
             cv::TermCriteria(cv::TermCriteria::COUNT, 12, 0), 1, cv::KMEANS_PP_CENTERS, centres);
  cv::Mat distance(lab.size(), CV_8U);
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      double nearest = 1e9;
      for (int k = 0; k < centres.rows; ++k) {
        const cv::Vec3f d = lab.at<cv::Vec3f>(y, x) - cv::Vec3f(centres.ptr<float>(k));
        nearest = std::min(nearest, double(d.dot(d)));
      }
      distance.at<std::uint8_t>(y, x) = std::uint8_t(std::min(255.0, std::sqrt(nearest) * 3));
    }
  }
  cv::GaussianBlur(distance, distance, cv::Size(7, 7), 1.5);
  return distance;
}

}  // namespace

BorderColours byBorderColours(const cv::Mat& lab) {
  constexpr double kOnRim = 0.03,
                   kBetween = 0.735;  // share of the rim that is far; share of the variance that is between the groups
  const cv::Mat distance = distanceToBorder(lab);
  cv::Mat far;
  cv::threshold(distance, far, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU);
  BorderColours out;
  // Nothing is sure by colour alone but that the rim, where it has the border's colours, is background.
  far.convertTo(out.likely, CV_32F, 0.4 / 255, 0.3);
  int rim = 0, farOnRim = 0;
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      if (!onRim(lab, x, y)) continue;
      ++rim;
      if (far.at<std::uint8_t>(y, x)) {
        ++farOnRim;
      } else {
        out.likely.at<float>(y, x) = 0;
      }
    }
  }
  const double share = double(cv::countNonZero(far)) / double(far.total());
  if (share <= 0 || share >= 1 || farOnRim > kOnRim * rim) return out;
  cv::Scalar mean, deviation;
  cv::meanStdDev(distance, mean, deviation);
  const double step = cv::mean(distance, far)[0] - cv::mean(distance, ~far)[0];
  out.plain = share * (1 - share) * step * step > kBetween * deviation[0] * deviation[0];
  return out;
}

}  // namespace hseam::select
