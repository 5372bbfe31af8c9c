#include "core/select/doubt.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace hseam::select {

Agreement agreementOf(const cv::Mat& prior, const cv::Mat& subject) {
  Agreement out;
  const cv::Mat likely = prior >= 0.5f;
  const int either = cv::countNonZero(likely | subject);
  if (either == 0) return out;
  // 1 where the prior is sure of what the cut says, 0 where it is sure of the opposite.
  cv::Mat toward = prior.clone();
  cv::subtract(1.0, prior, toward, subject == 0);
  out.confidence = std::clamp(cv::mean(toward, likely | subject)[0], 0.0, 1.0);

  // Along the outline a coarse prior is never sure; further away it should be.
  const int rim = std::max(2, std::max(prior.cols, prior.rows) / 100);
  cv::Mat doubt = toward < 0.6f, opened;
  cv::morphologyEx(doubt, opened, cv::MORPH_OPEN,
                   cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * rim + 1, 2 * rim + 1)));
  cv::Mat labels, stats, centres;
  const int n = cv::connectedComponentsWithStats(opened, labels, stats, centres, 8, CV_32S);
  std::vector<int> order;
  for (int i = 1; i < n; ++i) order.push_back(i);
  std::sort(order.begin(), order.end(),
            [&](int a, int b) { return stats.at<int>(a, cv::CC_STAT_AREA) > stats.at<int>(b, cv::CC_STAT_AREA); });
  constexpr std::size_t kMost = 8;
  order.resize(std::min(order.size(), kMost));
  for (const int i : order) {
    out.doubtful.push_back({stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP),
                            stats.at<int>(i, cv::CC_STAT_WIDTH), stats.at<int>(i, cv::CC_STAT_HEIGHT)});
  }
  return out;
}

}  // namespace hseam::select
