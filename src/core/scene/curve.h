#pragma once

#include <utility>
#include <vector>

namespace hseam::scene {

/// (x, y) points, 0..1, x rising.
using CurvePoints = std::vector<std::pair<double, double>>;

/// Monotone cubic through the points, constant outside (Fritsch & Carlson 1980, with their region of monotonicity cut by
/// the circle of radius 3). No points: the identity; one: constant.
class MonotoneCurve {
 public:
  explicit MonotoneCurve(CurvePoints points);
  double operator()(double x) const;

 private:
  CurvePoints points_;
  std::vector<double> slopes_;
};

/// Whether x rises strictly and all values are within 0..1.
bool validCurve(const CurvePoints& points);

}  // namespace hseam::scene
