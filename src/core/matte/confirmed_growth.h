#pragma once
// Undoes the growth of a strip where the solved alpha shows neither strands nor a soft edge.

#include <opencv2/core.hpp>

namespace hseam::matte {

/// band (8 bit, kSubject kUndecided kBackground): what is undecided but was decided `before` goes back to its side unless
///   1. something strong of the other side hangs together with that side there (alpha, float 0–1, is the solution),
///   2. its colours are more than that side shows so often further away,
///   3. the less so, the more of the part is clearly one or the other: strands have ground between them, a textured ground that
///      resembles the subject is half of both everywhere.
/// Into the subject both have to be plain. colours: float RGB, encoded, of the same size. The limits come from half of the
/// pictures of others and from own renders (docs/decisions/019).
void confirmGrowth(const cv::Mat& before, const cv::Mat& alpha, const cv::Mat& colours, cv::Mat band);

}  // namespace hseam::matte
