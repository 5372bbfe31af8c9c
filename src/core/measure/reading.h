#pragma once
// The result of every reading.

#include <cmath>
#include <string>

namespace hseam::measure {

/// A measured number, or "can't tell": a confident wrong reading is worse than none.
struct Reading {
  bool available = false;
  double value = 0;
  double spread = 0;   // about one standard deviation of the value, in its unit
  std::string reason;  // why it is not available
};

inline Reading available(double value, double spread) {
  return {true, value, spread, {}};
}
inline Reading unavailable(std::string reason) {
  return {false, 0, 0, std::move(reason)};
}

}  // namespace hseam::measure
