#include "core/deliver/likeness.h"

#include <algorithm>
#include <atomic>
#include <opencv2/imgproc.hpp>
#include <vector>

namespace hseam::deliver {
namespace {

constexpr int kBlock = 32;  // px; what the worst square is put together from
constexpr int kMargin = 6;  // px that a window reaches
constexpr double kSigma = 1.5, kC1 = 0.01 * 0.01 * 255 * 255, kC2 = 0.03 * 0.03 * 255 * 255;

cv::Mat lumaOf(const image::Raster<std::uint8_t>& r, int from, int to) {
  cv::Mat out(to - from, r.width(), CV_32F);
  for (int y = from; y < to; ++y) {
    float* row = out.ptr<float>(y - from);
    for (int x = 0; x < r.width(); ++x) {
      const std::uint8_t* p = r.at(x, y);
      const float luma = 0.299f * p[0] + 0.587f * p[1] + 0.114f * p[2];  // ITU-R BT.601
      // Nobody sees the colours of an empty place, and encoders change them as they like.
      const float a = r.channels() == 4 ? float(p[3]) / 255 : 1;
      row[x] = a * luma + (1 - a) * 127.5f;
    }
  }
  return out;
}

cv::Mat softened(const cv::Mat& m) {
  cv::Mat out;
  cv::GaussianBlur(m, out, cv::Size(2 * kMargin - 1, 2 * kMargin - 1), kSigma, kSigma, cv::BORDER_REFLECT_101);
  return out;
}

cv::Mat similarity(const cv::Mat& a, const cv::Mat& b) {
  const cv::Mat ma = softened(a), mb = softened(b), aa = softened(a.mul(a)), bb = softened(b.mul(b)), ab = softened(a.mul(b));
  cv::Mat out(a.size(), CV_32F);
  for (int i = 0; i < int(a.total()); ++i) {
    const double x = double(ma.ptr<float>()[i]), y = double(mb.ptr<float>()[i]), vx = double(aa.ptr<float>()[i]) - x * x,
                 vy = double(bb.ptr<float>()[i]) - y * y, xy = double(ab.ptr<float>()[i]) - x * y;
    out.ptr<float>()[i] = float((2 * x * y + kC1) * (2 * xy + kC2) / ((x * x + y * y + kC1) * (vx + vy + kC2)));
  }
  return out;
}

}  // namespace

base::Result<Likeness> likenessOf(const image::Raster<std::uint8_t>& a, const image::Raster<std::uint8_t>& b,
                                  base::Executor& executor, const base::Progress& progress) try {
  CORE_CHECK(a.width() == b.width() && a.height() == b.height() && !a.empty() && a.channels() >= 3 && b.channels() >= 3);
  const int w = a.width(), h = a.height(), columns = (w + kBlock - 1) / kBlock, rows = (h + kBlock - 1) / kBlock;
  cv::Mat sums(rows, columns, CV_64F);
  std::atomic<int> done{0};
  executor.forEach(rows, [&](int row) {
    if (progress.cancelled()) return;
    const int top = row * kBlock, bottom = std::min(h, top + kBlock), from = std::max(0, top - kMargin),
              to = std::min(h, bottom + kMargin);
    const cv::Mat s = similarity(lumaOf(a, from, to), lumaOf(b, from, to));
    for (int column = 0; column < columns; ++column) {
      const int left = column * kBlock;
      sums.at<double>(row, column) = cv::sum(s(cv::Rect(left, top - from, std::min(kBlock, w - left), bottom - top)))[0];
    }
    progress.report(double(++done) / rows);
  });
  if (progress.cancelled()) return base::cancelledError();
  Likeness out{cv::sum(sums)[0] / (double(w) * h), 2, {}};
  constexpr int kBlocks = kCropSide / kBlock;
  for (int y = 0; y < std::max(1, rows - kBlocks + 1); ++y) {
    for (int x = 0; x < std::max(1, columns - kBlocks + 1); ++x) {
      const cv::Rect blocks(x, y, std::min(kBlocks, columns - x), std::min(kBlocks, rows - y));
      const base::Rect place = base::Rect{x * kBlock, y * kBlock, kCropSide, kCropSide}.intersected({0, 0, w, h});
      const double mean = cv::sum(sums(blocks))[0] / (double(place.width) * place.height);
      if (mean < out.worst) out.worst = mean, out.worstAt = place;
    }
  }
  return out;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::deliver
