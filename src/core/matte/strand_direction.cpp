#include "core/matte/strand_direction.h"

#include <algorithm>
#include <cmath>

namespace hseam::matte {

base::Result<StrandDirection> strandDirection(const image::TiledImage& picture, base::Point at, double sigmaPx) {
  const int reach = std::clamp(int(std::ceil(2.5 * sigmaPx)), 3, 100);
  const base::Rect area{int(at.x) - reach - 1, int(at.y) - reach - 1, 2 * reach + 3, 2 * reach + 3};
  HSEAM_TRY(const auto read, image::readFloat(picture, 0, area));
  image::Raster<float> tone(area.width, area.height);
  const int channels = read.channels();
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const float* c = read.at(x, y);
      *tone.at(x, y) = channels < 3 ? c[0] : 0.25f * c[0] + 0.6f * c[1] + 0.15f * c[2];
    }
  }
  double xx = 0, xy = 0, yy = 0;
  for (int y = 1; y + 1 < area.height; ++y) {
    for (int x = 1; x + 1 < area.width; ++x) {
      const double dx = x - reach - 1, dy = y - reach - 1, w = std::exp(-(dx * dx + dy * dy) / (2 * sigmaPx * sigmaPx));
      const double gx = double(*tone.at(x + 1, y) - *tone.at(x - 1, y)), gy = double(*tone.at(x, y + 1) - *tone.at(x, y - 1));
      xx += w * gx * gx, xy += w * gx * gy, yy += w * gy * gy;
    }
  }
  StrandDirection d;
  // Across is the eigenvector of the larger eigenvalue; strands lie at a right angle to it.
  const double across = 0.5 * std::atan2(2 * xy, xx - yy);
  d.angle = std::remainder(across + M_PI / 2, M_PI);
  const double sum = xx + yy;
  d.coherence = sum > 1e-9 ? std::hypot(xx - yy, 2 * xy) / sum : 0;
  return d;
}

}  // namespace hseam::matte
