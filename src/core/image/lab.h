#pragma once
// CIE L*a*b* with white D50, from sRGB by Bradford adaptation (ICC.1:2022, annex E; Bruce Lindbloom's matrices).

#include <array>

namespace hseam::image {

struct Lab {
  double l = 0, a = 0, b = 0;
};

/// rgb: sRGB-encoded, 0..1.
Lab labFromEncoded(const std::array<double, 3>& rgb);
/// Sharma, Wu, Dalal 2005: CIEDE2000, kL = kC = kH = 1.
double deltaE2000(const Lab& x, const Lab& y);

}  // namespace hseam::image
