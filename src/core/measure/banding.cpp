#include "core/measure/banding.h"

#include <algorithm>
#include <cmath>

namespace hseam::measure {

Reading bandingOf(const Part& part) {
  constexpr int kSquare = 16;
  int sloping = 0, stepped = 0;
  const auto levelAt = [&](int x, int y) {
    const float* c = part.colours.at(x, y);
    return std::lround(255 * (0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2]));
  };
  for (int by = 0; by + kSquare <= part.colours.height(); by += kSquare) {
    for (int bx = 0; bx + kSquare <= part.colours.width(); bx += kSquare) {
      long low = 255, high = 0;
      int rough = 0;
      bool whole = true;
      for (int y = 0; y < kSquare && whole; y += 2) {
        for (int x = 0; x < kSquare; x += 2) {
          whole &= *part.counts.at(bx + x, by + y) != 0;
          const long a = levelAt(bx + x, by + y), b = levelAt(bx + x + 1, by + y), c = levelAt(bx + x, by + y + 1),
                     d = levelAt(bx + x + 1, by + y + 1);
          low = std::min({low, a, b, c, d}), high = std::max({high, a, b, c, d});
          // A step passes through few of them; grain is in most.
          rough += a - b - c + d != 0;
        }
      }
      if (!whole || high - low < 1 || high - low > 6) continue;
      ++sloping;
      stepped += rough <= 6;
    }
  }
  if (sloping < 20) return unavailable("there are no smooth slopes");
  const double share = double(stepped) / sloping;
  return available(share, std::sqrt(share * (1 - share) / sloping));
}

}  // namespace hseam::measure
