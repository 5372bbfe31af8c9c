#pragma once

#include <opencv2/core.hpp>

namespace hseam::select {

/// How likely each pixel is the subject when nothing but colour is asked: what lies far from all of the picture border's colours
/// (six mixtures of them). Knows plain backgrounds only. lab: CV_32FC3, L*a*b*. CV_32F, 0..1.
cv::Mat farFromBorder(const cv::Mat& lab);

/// Whether that is enough here: the border has next to none of the far colours, and near and far colours are two groups (share of
/// the variance of the distance that lies between them). prior: as farFromBorder gives it.
bool groundIsPlain(const cv::Mat& lab, const cv::Mat& prior);

}  // namespace hseam::select
