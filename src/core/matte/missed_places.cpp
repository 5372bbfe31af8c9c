#include "core/matte/missed_places.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

constexpr int kNearBy = 49;          // px across, in which each side's colours are read
constexpr float kLeastShare = 0.06;  // of that square that a side must have
constexpr float kAlike = 0.75f;      // standard deviations between the sides' means, over all channels
constexpr float kSpreads = 2.2f;     // times that one side may vary more than the other and still look alike
constexpr float kGrain = 0.012f;     // standard deviation that any picture has
constexpr int kShortest = 36;        // px of half-way line
constexpr int kJoined = 6;           // px over which gaps of it are closed
constexpr std::size_t kMost = 8;

// What one side looks like around each pixel.
struct Side {
  cv::Mat share, mean, variance;  // CV_32F, CV_32FC3, CV_32FC3
};
Side sideAround(const cv::Mat& colours, const cv::Mat& side) {
  const cv::Size size(kNearBy, kNearBy);
  cv::Mat own(colours.size(), CV_32FC3, cv::Scalar::all(0)), squares, weight, sum, sumOfSquares, all;
  colours.copyTo(own, side);
  cv::multiply(own, own, squares);
  side.convertTo(weight, CV_32F, 1.0 / 255);
  Side s;
  cv::boxFilter(weight, s.share, CV_32F, size);
  cv::boxFilter(own, sum, CV_32F, size);
  cv::boxFilter(squares, sumOfSquares, CV_32F, size);
  cv::merge(std::vector<cv::Mat>(3, cv::max(s.share, 1e-6f)), all);
  s.mean = sum / all;
  s.variance = sumOfSquares / all - s.mean.mul(s.mean);
  return s;
}

bool alike(const Side& a, const Side& b, int i) {
  if (a.share.ptr<float>()[i] < kLeastShare || b.share.ptr<float>()[i] < kLeastShare) return false;
  float apart = 0, spreadA = 0, spreadB = 0;
  for (int c = 0; c < 3; ++c) {
    const float va = std::max(0.f, a.variance.ptr<cv::Vec3f>()[i][c]) + kGrain * kGrain,
                vb = std::max(0.f, b.variance.ptr<cv::Vec3f>()[i][c]) + kGrain * kGrain,
                d = a.mean.ptr<cv::Vec3f>()[i][c] - b.mean.ptr<cv::Vec3f>()[i][c];
    apart += d * d / (va + vb);
    spreadA += va, spreadB += vb;
  }
  return apart < kAlike * kAlike && spreadA < kSpreads * kSpreads * spreadB && spreadB < kSpreads * kSpreads * spreadA;
}

}  // namespace

std::vector<base::Rect> missedPlaces(const cv::Mat& strip, const cv::Mat& alpha, const cv::Mat& colours) {
  cv::Mat edge;
  cv::morphologyEx(alpha >= 0.5f, edge, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
  const Side subject = sideAround(colours, strip == kSubject), background = sideAround(colours, strip == kBackground);
  cv::Mat along(strip.size(), CV_8U, cv::Scalar(0));
  for (int i = 0; i < int(edge.total()); ++i) {
    if (edge.data[i] && strip.data[i] == kUndecided && alike(subject, background, i)) along.data[i] = 255;
  }
  cv::Mat joined, labels, stats, centres;
  cv::morphologyEx(along, joined, cv::MORPH_CLOSE,
                   cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * kJoined + 1, 2 * kJoined + 1)));
  const int n = cv::connectedComponentsWithStats(joined, labels, stats, centres, 8, CV_32S);
  std::vector<int> length(std::size_t(n), 0), order;
  for (int i = 0; i < int(along.total()); ++i) {
    if (along.data[i]) ++length[std::size_t(labels.ptr<int>()[i])];
  }
  // The gradient is two px wide.
  for (int i = 1; i < n; ++i) {
    if (length[std::size_t(i)] >= 2 * kShortest) order.push_back(i);
  }
  std::sort(order.begin(), order.end(), [&](int a, int b) { return length[std::size_t(a)] > length[std::size_t(b)]; });
  order.resize(std::min(order.size(), kMost));
  std::vector<base::Rect> out;
  out.reserve(order.size());
  for (const int i : order) {
    out.push_back({stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP), stats.at<int>(i, cv::CC_STAT_WIDTH),
                   stats.at<int>(i, cv::CC_STAT_HEIGHT)});
  }
  return out;
}

}  // namespace hseam::matte
