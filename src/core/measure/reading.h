#pragma once
// What every reading answers with.

#include <cmath>
#include <string>

namespace hseam::measure {

/// A number that was read from pixels, or "can't tell". A confident wrong reading is worse than none.
struct Reading {
  bool available = false;
  double value = 0;
  double spread = 0;   // about one standard deviation of the value, in its unit
  std::string reason;  // not available: why it can't be told
};

inline Reading available(double value, double spread) {
  return {true, value, spread, {}};
}
inline Reading unavailable(std::string reason) {
  return {false, 0, 0, std::move(reason)};
}

}  // namespace hseam::measure
