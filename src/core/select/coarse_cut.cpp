#include "core/select/coarse_cut.h"

#include <opencv2/imgproc.hpp>

namespace hseam::select {
namespace {

constexpr int kSpeck = 200;  // times smaller than the largest piece

bool hasBoth(const cv::Mat& labels) {
  const int subject = cv::countNonZero(labels & 1);
  return subject > 0 && subject < int(labels.total());
}

// The same at half the size: what is sure stays so only where all four pixels are.
cv::Mat halfOf(const cv::Mat& labels) {
  cv::Mat half(labels.rows / 2, labels.cols / 2, CV_8U);
  for (int y = 0; y < half.rows; ++y) {
    const std::uint8_t *a = labels.ptr<std::uint8_t>(2 * y), *b = labels.ptr<std::uint8_t>(2 * y + 1);
    for (int x = 0; x < half.cols; ++x) {
      const std::uint8_t four[] = {a[2 * x], a[2 * x + 1], b[2 * x], b[2 * x + 1]};
      int subject = 0, sure = 0;
      for (const std::uint8_t l : four) subject += l & 1, sure += l == kSurelyBackground || l == kSurelySubject;
      const bool is = subject >= 2;
      const bool all = sure == 4 && (subject == 0 || subject == 4);
      half.ptr<std::uint8_t>(y)[x] =
          std::uint8_t(all ? (is ? kSurelySubject : kSurelyBackground) : (is ? kLikelySubject : kLikelyBackground));
    }
  }
  return half;
}

// What was likely and lies further than this from the outline that half the size gave stays as it was given there.
constexpr int kOpenPx = 5;
void settle(const cv::Mat& half, cv::Mat& labels) {
  cv::Mat subject, edge;
  cv::resize((half & 1) * 255, subject, labels.size(), 0, 0, cv::INTER_LINEAR);
  subject = subject >= 128;
  cv::morphologyEx(subject, edge, cv::MORPH_GRADIENT,
                   cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * kOpenPx + 1, 2 * kOpenPx + 1)));
  for (int i = 0; i < int(labels.total()); ++i) {
    std::uint8_t& l = labels.data[i];
    if (l == kSurelyBackground || l == kSurelySubject) continue;
    l = std::uint8_t(edge.data[i] ? (subject.data[i] ? kLikelySubject : kLikelyBackground)
                                  : (subject.data[i] ? kSurelySubject : kSurelyBackground));
  }
}

}  // namespace

base::Result<cv::Mat> coarseCut(const cv::Mat& rgb, cv::Mat labels, int rounds, const base::Progress& progress) {
  static_assert(int(kSurelyBackground) == cv::GC_BGD && int(kSurelySubject) == cv::GC_FGD &&
                int(kLikelyBackground) == cv::GC_PR_BGD && int(kLikelySubject) == cv::GC_PR_FGD);
  const base::Error nothing{base::Code::invalid, "", "no subject stands out; draw a box round it or paint a hint on it"};
  if (!hasBoth(labels)) return nothing;
  const cv::Mat given = labels.clone();
  try {
    // The mixtures begin with a random choice: the same picture is to give the same cut.
    cv::theRNG().state = 1;
    cv::Mat backgroundModel, subjectModel;
    cv::Mat half = halfOf(labels), smaller;
    const bool twoSizes = rounds > 1 && hasBoth(half);
    if (twoSizes) {
      cv::resize(rgb, smaller, half.size(), 0, 0, cv::INTER_AREA);
      for (int i = 0; i + 1 < rounds; ++i) {
        cv::grabCut(smaller, half, cv::Rect(), backgroundModel, subjectModel, 1, i == 0 ? cv::GC_INIT_WITH_MASK : cv::GC_EVAL);
        progress.report((i + 1.0) / rounds);
        if (progress.cancelled()) return base::cancelledError();
      }
      settle(half, labels);
      if (!hasBoth(labels)) return nothing;
    }
    cv::grabCut(rgb, labels, cv::Rect(), backgroundModel, subjectModel, 1, twoSizes ? cv::GC_EVAL : cv::GC_INIT_WITH_MASK);
    progress.report(1);
  } catch (const cv::Exception&) {
    return base::Error{base::Code::invalid, "", "no subject can be told from its background here; paint a hint on both"};
  }
  cv::Mat subject = (labels & 1) * 255;
  dropSpecks(subject, given);
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
