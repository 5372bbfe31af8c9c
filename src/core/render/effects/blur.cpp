// Even blurs of light: by a Gaussian, and along a line.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/light.h"

namespace hseam::render::effects {
namespace {

constexpr double kLeast = 0.1;  // px of the level: less is not seen
constexpr double kDirect = 12;  // px: wider ones are blurred on half the resolution, which loses nothing that they keep

}  // namespace

void gaussianBlur(cv::Mat plane, double sigma) {
  if (sigma < kLeast) return;
  if (sigma > kDirect) {
    // Halving by area and enlarging by lines blur as well: by about 0.6 px of the finer grid in all.
    cv::Mat half, back;
    cv::resize(plane, half, cv::Size((plane.cols + 1) / 2, (plane.rows + 1) / 2), 0, 0, cv::INTER_AREA);
    gaussianBlur(half, std::sqrt(sigma * sigma - 0.6) / 2);
    cv::resize(half, back, plane.size(), 0, 0, cv::INTER_LINEAR);
    back.copyTo(plane);
    return;
  }
  const int reach = std::max(1, int(std::ceil(3 * sigma)));
  cv::Mat out;
  cv::GaussianBlur(plane, out, cv::Size(2 * reach + 1, 2 * reach + 1), sigma, sigma, cv::BORDER_REPLICATE);
  out.copyTo(plane);
}

void gaussian(const Values& v, const EffectWindow& w, Planes& p) {
  const double sigma = w.px(v[0]);
  if (sigma < kLeast) return;
  toLight(p);
  for (int c = 0; c < 4; ++c) gaussianBlur(matOf(p, c, w.area), sigma);
  fromLight(p);
}

void motion(const Values& v, const EffectWindow& w, Planes& p) {
  const double length = w.px(v[0]), angle = v[1] * CV_PI / 180;
  if (length < kLeast) return;
  // A line of that length, each pixel by how much of it lies there: drawn with eight points a pixel, shared among neighbours.
  const double dx = std::cos(angle) * length, dy = std::sin(angle) * length;
  const int rx = int(std::ceil(std::abs(dx) / 2)) + 1, ry = int(std::ceil(std::abs(dy) / 2)) + 1;
  cv::Mat kernel = cv::Mat::zeros(2 * ry + 1, 2 * rx + 1, CV_32F);
  const int points = std::max(2, int(std::ceil(8 * length)));
  for (int i = 0; i < points; ++i) {
    const double t = (i + 0.5) / points - 0.5, x = rx + t * dx, y = ry + t * dy;
    const int ix = int(std::floor(x)), iy = int(std::floor(y));
    const double fx = x - ix, fy = y - iy;
    kernel.at<float>(iy, ix) += float((1 - fx) * (1 - fy) / points);
    kernel.at<float>(iy, ix + 1) += float(fx * (1 - fy) / points);
    kernel.at<float>(iy + 1, ix) += float((1 - fx) * fy / points);
    kernel.at<float>(iy + 1, ix + 1) += float(fx * fy / points);
  }
  toLight(p);
  for (int c = 0; c < 4; ++c) {
    cv::Mat plane = matOf(p, c, w.area), out;
    cv::filter2D(plane, out, CV_32F, kernel, cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
    out.copyTo(plane);
  }
  fromLight(p);
}

}  // namespace hseam::render::effects
