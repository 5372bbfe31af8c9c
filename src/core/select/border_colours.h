#pragma once

#include <opencv2/core.hpp>

namespace hseam::select {

struct BorderColours {
  cv::Mat likely;      // CV_32F, 0..1: how likely each pixel is the subject, by colour alone
  bool plain = false;  // the ground is plain enough for that to be trusted
};

/// What lies far from all of the picture border's colours (k-means, six of them; split by Otsu 1979) may be the subject. The
/// ground is plain if the border has next to none of the far colours and near and far ones are two groups: most of the variance
/// of the distance lies between them. lab: CV_32FC3, L*a*b*.
BorderColours byBorderColours(const cv::Mat& lab);

}  // namespace hseam::select
