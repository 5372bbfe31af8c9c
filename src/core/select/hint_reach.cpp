#include "core/select/hint_reach.h"

#include <cmath>
#include <queue>
#include <vector>

#include "core/select/subject_guess.h"

namespace hseam::select {
namespace {

constexpr float kFarthest = 5;      // L*a*b* units that are passed in all, smooth changes and length together
constexpr float kFlat = 1.5f;       // steps below this are texture and noise
constexpr float kLengthPrice = 30;  // for the way across the picture's longer side

struct Front {
  float cost;
  int at;
  bool operator>(const Front& o) const { return cost > o.cost; }
};

cv::Mat distanceFrom(const cv::Mat& lab, const cv::Mat& hints, std::uint8_t which) {
  cv::Mat cost(lab.size(), CV_32F, cv::Scalar(1e9f));
  std::priority_queue<Front, std::vector<Front>, std::greater<>> open;
  const int w = lab.cols, h = lab.rows;
  for (int i = 0; i < int(hints.total()); ++i) {
    if (hints.data[i] != which) continue;
    cost.ptr<float>()[i] = 0;
    open.push({0, i});
  }
  const float length = kLengthPrice / float(std::max(w, h));
  while (!open.empty()) {
    const Front f = open.top();
    open.pop();
    if (f.cost > cost.ptr<float>()[f.at] || f.cost > kFarthest) continue;
    const int x = f.at % w, y = f.at / w;
    const cv::Vec3f& from = lab.ptr<cv::Vec3f>()[f.at];
    for (int dy = -1; dy <= 1; ++dy) {
      for (int dx = -1; dx <= 1; ++dx) {
        const int u = x + dx, v = y + dy;
        if ((dx == 0 && dy == 0) || u < 0 || v < 0 || u >= w || v >= h) continue;
        const int to = v * w + u;
        const cv::Vec3f d = lab.ptr<cv::Vec3f>()[to] - from;
        const float step = std::sqrt(d.dot(d)), way = dx != 0 && dy != 0 ? 1.414f : 1.f;
        const float c = f.cost + std::max(0.f, step - kFlat) + way * length;
        if (c < cost.ptr<float>()[to]) {
          cost.ptr<float>()[to] = c;
          open.push({c, to});
        }
      }
    }
  }
  return cost;
}

}  // namespace

cv::Mat hintReach(const cv::Mat& lab, const cv::Mat& hints) {
  const cv::Mat subject = distanceFrom(lab, hints, kHintSubject), background = distanceFrom(lab, hints, kHintBackground);
  cv::Mat out(lab.size(), CV_8U, cv::Scalar(0));
  for (int i = 0; i < int(out.total()); ++i) {
    const float s = subject.ptr<float>()[i], b = background.ptr<float>()[i];
    if (std::min(s, b) > kFarthest) continue;
    out.data[i] = s <= b ? 255 : 1;
  }
  return out;
}

}  // namespace hseam::select
