#include "core/image/transfer.h"

#include <cmath>

namespace hseam::image {

double linearFromEncoded(double e) {
  if (e < 0) return -linearFromEncoded(-e);
  return e <= 0.04045 ? e / 12.92 : std::pow((e + 0.055) / 1.055, 2.4);
}

double encodedFromLinear(double l) {
  if (l < 0) return -encodedFromLinear(-l);
  return l <= 0.0031308 ? 12.92 * l : 1.055 * std::pow(l, 1 / 2.4) - 0.055;
}

const std::array<float, 256>& linearOf8() {
  static const auto table = [] {
    std::array<float, 256> t{};
    for (std::size_t i = 0; i < t.size(); ++i) t[i] = float(linearFromEncoded(double(i) / 255));
    return t;
  }();
  return table;
}

}  // namespace hseam::image
