#include "core/select/border_colours.h"

#include <opencv2/imgproc.hpp>
#include <vector>

namespace hseam::select {

cv::Mat farFromBorder(const cv::Mat& lab) {
  constexpr int kMixtures = 6;
  const int rim = std::max(2, std::min(lab.cols, lab.rows) / 40);
  const auto onRim = [&](int x, int y) { return x < rim || y < rim || x >= lab.cols - rim || y >= lab.rows - rim; };
  std::vector<cv::Vec3f> border;
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      if (onRim(x, y)) border.push_back(lab.at<cv::Vec3f>(y, x));
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
      for (int k = 0; k < centres.rows; ++k)
        nearest = std::min(nearest, cv::norm(lab.at<cv::Vec3f>(y, x), cv::Vec3f(centres.ptr<float>(k))));
      distance.at<std::uint8_t>(y, x) = std::uint8_t(std::min(255.0, nearest * 3));
    }
  }
  cv::GaussianBlur(distance, distance, cv::Size(7, 7), 1.5);
  cv::Mat far, out;
  cv::threshold(distance, far, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU);
  // Nothing is sure by colour alone but that the rim, where it has the border's colours, is background.
  far.convertTo(out, CV_32F, 0.4 / 255, 0.3);
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      if (onRim(x, y) && !far.at<std::uint8_t>(y, x)) out.at<float>(y, x) = 0;
    }
  }
  return out;
}

}  // namespace hseam::select
