#pragma once
// A place as a function of where one looks: its frames are exact, whatever lies between their pixels.

#include <array>
#include <functional>
#include <vector>

#include "core/frames/homography.h"
#include "pictures.h"

namespace hseam::test {

/// Stones and waves of light from a seed; as fine as a good lens shows them.
class ShownPlace {
 public:
  ShownPlace(std::uint64_t seed, base::Size size);
  /// Linear, 0..1; px of the place; channel 0..2.
  double light(double x, double y, int channel) const;

  struct Shot {
    frames::Homography toBase = {};  // px of the frame → px of the place
    double stops = 0, redStops = 0, blueStops = 0;
    double noise = 0.004;  // standard deviation of encoded values
    /// What stands before the place, linear; px of the frame. Negative: nothing does.
    std::function<double(double x, double y, int channel)> before = {};
    /// Where something is seen from another point of view; px of the place.
    std::function<base::Point(base::Point)> seenFrom = {};
  };
  image::TiledImage frame(base::Size size, const Shot& shot, std::uint64_t seed) const;

 private:
  struct Stone {
    double x, y, r;
    std::array<double, 3> colour;
  };
  static constexpr int kCell = 32;
  int columns_, rows_;
  std::vector<std::vector<Stone>> cells_;  // what reaches into each
  std::vector<std::array<double, 3>> waves_;
};

}  // namespace hseam::test
