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

const TransferTables& transferTables() {
  static const TransferTables tables = [] {
    TransferTables t{};
    for (std::size_t i = 0; i < t.linearOf8.size(); ++i) t.linearOf8[i] = float(linearFromEncoded(double(i) / 255));
    for (std::size_t i = 0; i < t.linearOfSteps.size(); ++i) t.linearOfSteps[i] = float(linearFromEncoded(double(i) / 1024));
    for (std::size_t i = 0; i < t.encodedOfBits.size(); ++i) {
      const double x = std::ldexp(1 + double(i % 64) / 64, int(i / 64) - 16);
      t.encodedOfBits[i] = float(encodedFromLinear(x));
    }
    return t;
  }();
  return tables;
}

}  // namespace hseam::image
