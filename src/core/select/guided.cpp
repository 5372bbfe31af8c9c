#include "core/select/guided.h"

#include <opencv2/imgproc.hpp>

namespace hseam::select {
namespace {

cv::Mat mean(const cv::Mat& m, int radius) {
  cv::Mat out;
  cv::boxFilter(m, out, CV_32F, cv::Size(2 * radius + 1, 2 * radius + 1), cv::Point(-1, -1), true, cv::BORDER_REFLECT);
  return out;
}

}  // namespace

image::Raster<float> guidedFilter(const image::Raster<float>& guide, const image::Raster<float>& values, int radius, double eps) {
  const cv::Mat g(guide.height(), guide.width(), CV_32FC3, const_cast<float*>(guide.row(0)));
  const cv::Mat p(values.height(), values.width(), CV_32F, const_cast<float*>(values.row(0)));
  cv::Mat c[3];
  cv::split(g, c);
  cv::Mat m[3], cov[3];
  const cv::Mat mp = mean(p, radius);
  for (int i = 0; i < 3; ++i) m[i] = mean(c[i], radius);
  for (int i = 0; i < 3; ++i) cov[i] = mean(c[i].mul(p), radius) - m[i].mul(mp);
  // The guide's covariance, upper triangle: rr rg rb gg gb bb.
  cv::Mat s[6];
  for (int i = 0, k = 0; i < 3; ++i) {
    for (int j = i; j < 3; ++j, ++k) s[k] = mean(c[i].mul(c[j]), radius) - m[i].mul(m[j]);
  }
  cv::Mat a[3];
  for (auto& x : a) x.create(p.size(), CV_32F);
  for (int y = 0; y < p.rows; ++y) {
    for (int x = 0; x < p.cols; ++x) {
      const double e = eps;
      const double rr = double(s[0].at<float>(y, x)) + e, rg = double(s[1].at<float>(y, x)), rb = double(s[2].at<float>(y, x));
      const double gg = double(s[3].at<float>(y, x)) + e, gb = double(s[4].at<float>(y, x)),
                   bb = double(s[5].at<float>(y, x)) + e;
      const double v0 = double(cov[0].at<float>(y, x)), v1 = double(cov[1].at<float>(y, x)), v2 = double(cov[2].at<float>(y, x));
      const double i00 = gg * bb - gb * gb, i01 = gb * rb - rg * bb, i02 = rg * gb - gg * rb;
      const double i11 = rr * bb - rb * rb, i12 = rg * rb - rr * gb, i22 = rr * gg - rg * rg;
      const double det = rr * i00 + rg * i01 + rb * i02;
      a[0].at<float>(y, x) = float((i00 * v0 + i01 * v1 + i02 * v2) / det);
      a[1].at<float>(y, x) = float((i01 * v0 + i11 * v1 + i12 * v2) / det);
      a[2].at<float>(y, x) = float((i02 * v0 + i12 * v1 + i22 * v2) / det);
    }
  }
  cv::Mat b = mp - a[0].mul(m[0]) - a[1].mul(m[1]) - a[2].mul(m[2]);
  cv::Mat out = mean(b, radius);
  for (int i = 0; i < 3; ++i) out += mean(a[i], radius).mul(c[i]);
  image::Raster<float> result(values.width(), values.height());
  for (int y = 0; y < out.rows; ++y) std::copy_n(out.ptr<float>(y), out.cols, result.row(y));
  return result;
}

}  // namespace hseam::select
