#include "core/frames/solid.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/image/transfer.h"

namespace hseam::frames {
namespace {

using image::Raster;

constexpr float kLeastLight = 0.004f;                // linear: below, channels are noise
constexpr float kDarkest = 0.15f, kLightest = 1.3f;  // of the place's light that a shadow, or light thrown back, leaves
// Largest ratio of channels to smallest: of light that is nearly all there, and more where the lamp is gone and only the light
// of the surroundings, of another colour, is left.
constexpr float kSameColour = 1.12f, kSurroundings = 1.1f;

cv::Mat linearOfFrame(const Raster<float>& encoded) {
  cv::Mat light(encoded.height(), encoded.width(), CV_32FC3);
  auto* to = light.ptr<float>();
  for (std::size_t i = 0; i < encoded.samples().size(); ++i) to[i] = image::fastLinear(encoded.samples()[i]);
  cv::blur(light, light, {3, 3});
  return light;
}

bool onlyOtherLight(const cv::Vec3f& shown, const cv::Vec3f& place) {
  float least = 1e9f, most = 0, mean = 0;
  for (int c = 0; c < 3; ++c) {
    const float ratio = (shown[c] + kLeastLight) / (place[c] + kLeastLight);
    least = std::min(least, ratio), most = std::max(most, ratio), mean += ratio / 3;
  }
  return least > kDarkest && most < kLightest && most < (kSameColour + kSurroundings * std::max(0.f, 1 - mean)) * least;
}

}  // namespace

Raster<std::uint8_t> solidOf(const Raster<float>& frame, const Raster<float>& place, const Raster<std::int32_t>& pieces) {
  const cv::Mat shown = linearOfFrame(frame), under = linearOfFrame(place);
  cv::Mat solid(frame.height(), frame.width(), CV_8U, cv::Scalar(0));
  for (int y = 0; y < solid.rows; ++y) {
    for (int x = 0; x < solid.cols; ++x) {
      if (*pieces.at(x, y) != 0 && !onlyOtherLight(shown.at<cv::Vec3f>(y, x), under.at<cv::Vec3f>(y, x)))
        solid.at<std::uint8_t>(y, x) = 1;
    }
  }
  const cv::Mat small = cv::getStructuringElement(cv::MORPH_ELLIPSE, {3, 3}),
                large = cv::getStructuringElement(cv::MORPH_ELLIPSE, {9, 9});
  cv::morphologyEx(solid, solid, cv::MORPH_OPEN, small);
  cv::morphologyEx(solid, solid, cv::MORPH_CLOSE, large);
  cv::dilate(solid, solid, cv::getStructuringElement(cv::MORPH_ELLIPSE, {5, 5}));  // the soft edge belongs to it
  Raster<std::uint8_t> out(frame.width(), frame.height(), 1);
  for (int y = 0; y < solid.rows; ++y) {
    for (int x = 0; x < solid.cols; ++x) *out.at(x, y) = *pieces.at(x, y) != 0 ? solid.at<std::uint8_t>(y, x) : 0;
  }
  return out;
}

}  // namespace hseam::frames
