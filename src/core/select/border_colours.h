#pragma once

#include <opencv2/core.hpp>

namespace hseam::select {

struct BorderColours {
  cv::Mat likely;      // CV_32F, 0..1: how likely each pixel is the subject, by colour alone
  bool plain = false;  // the ground is plain enough for that to be trusted
};

/// Colours far from all of those at the picture's border (k-means, six; split by Otsu 1979) may be the subject. The background is
/// plain if the border has hardly any of the far colours and most of the variance of the distance lies between near and far. lab:
/// CV_32FC3, L*a*b*.
BorderColours byBorderColours(const cv::Mat& lab);

}  // namespace hseam::select
