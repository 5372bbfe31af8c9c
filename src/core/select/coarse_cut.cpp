#include "core/select/coarse_cut.h"

#include <opencv2/imgproc.hpp>

namespace hseam::select {
namespace {

constexpr int kSpeck = 200;  // times smaller than the largest piece

bool hasBoth(const cv::Mat& labels) {
  const int subject = cv::countNonZero(labels & 1);
  return subject > 0 && subject < int(labels.total());
}

}  // namespace

base::Result<cv::Mat> coarseCut(const cv::Mat& rgb, cv::Mat labels, int rounds, const base::Progress& progress) {
  static_assert(int(kSurelyBackground) == cv::GC_BGD && int(kSurelySubject) == cv::GC_FGD &&
                int(kLikelyBackground) == cv::GC_PR_BGD && int(kLikelySubject) == cv::GC_PR_FGD);
  if (!hasBoth(labels))
    return base::Error{base::Code::invalid, "", "no subject stands out; draw a box round it or paint a hint on it"};
  try {
    // The mixtures begin with a random choice: the same picture is to give the same cut.
    cv::theRNG().state = 1;
    cv::Mat backgroundModel, subjectModel;
    for (int i = 0; i < rounds; ++i) {
      cv::grabCut(rgb, labels, cv::Rect(), backgroundModel, subjectModel, 1, i == 0 ? cv::GC_INIT_WITH_MASK : cv::GC_EVAL);
      progress.report((i + 1.0) / rounds);
      if (progress.cancelled()) return base::cancelledError();
    }
  } catch (const cv::Exception&) {
    return base::Error{base::Code::invalid, "", "no subject can be told from its background here; paint a hint on both"};
  }
  cv::Mat subject = (labels & 1) * 255;
  dropSpecks(subject, labels);
  return subject;
}

void dropSpecks(cv::Mat& subject, const cv::Mat& labels) {
  cv::Mat parts, stats, centres;
  const int n = cv::connectedComponentsWithStats(subject, parts, stats, centres, 8, CV_32S);
  int largest = 0;
  for (int i = 1; i < n; ++i) largest = std::max(largest, stats.at<int>(i, cv::CC_STAT_AREA));
  std::vector<bool> keep(std::size_t(n), false);
  for (int i = 1; i < n; ++i) keep[std::size_t(i)] = stats.at<int>(i, cv::CC_STAT_AREA) >= largest / kSpeck;
  for (int y = 0; y < subject.rows; ++y) {
    for (int x = 0; x < subject.cols; ++x) {
      if (labels.at<std::uint8_t>(y, x) == kSurelySubject) keep[std::size_t(parts.at<int>(y, x))] = true;
    }
  }
  keep[0] = false;
  for (int y = 0; y < subject.rows; ++y) {
    for (int x = 0; x < subject.cols; ++x) subject.at<std::uint8_t>(y, x) = keep[std::size_t(parts.at<int>(y, x))] ? 255 : 0;
  }
}

}  // namespace hseam::select
