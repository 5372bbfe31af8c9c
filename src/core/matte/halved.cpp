#include "core/matte/halved.h"

#include <algorithm>

#include "core/matte/trimap.h"

namespace hseam::matte {

using image::Raster;

namespace {

float bilinear(const Raster<float>& in, float x, float y) {
  x = std::clamp(x - 0.5f, 0.f, float(in.width() - 1));
  y = std::clamp(y - 0.5f, 0.f, float(in.height() - 1));
  const int x0 = int(x), y0 = int(y), x1 = std::min(x0 + 1, in.width() - 1), y1 = std::min(y0 + 1, in.height() - 1);
  const float u = x - float(x0), v = y - float(y0);
  return (1 - v) * ((1 - u) * *in.at(x0, y0) + u * *in.at(x1, y0)) + v * ((1 - u) * *in.at(x0, y1) + u * *in.at(x1, y1));
}

}  // namespace

Raster<float> halfPicture(const Raster<float>& in) {
  const int ch = in.channels();
  Raster<float> out((in.width() + 1) / 2, (in.height() + 1) / 2, ch);
  for (int y = 0; y < out.height(); ++y) {
    const int y0 = 2 * y, y1 = std::min(2 * y + 1, in.height() - 1);
    for (int x = 0; x < out.width(); ++x) {
      const int x0 = 2 * x, x1 = std::min(2 * x + 1, in.width() - 1);
      for (int c = 0; c < ch; ++c)
        out.at(x, y)[c] = 0.25f * (in.at(x0, y0)[c] + in.at(x1, y0)[c] + in.at(x0, y1)[c] + in.at(x1, y1)[c]);
    }
  }
  return out;
}

Raster<std::uint8_t> halfBand(const Raster<std::uint8_t>& in) {
  Raster<std::uint8_t> out((in.width() + 1) / 2, (in.height() + 1) / 2);
  for (int y = 0; y < out.height(); ++y) {
    const int y0 = 2 * y, y1 = std::min(2 * y + 1, in.height() - 1);
    for (int x = 0; x < out.width(); ++x) {
      const int x0 = 2 * x, x1 = std::min(2 * x + 1, in.width() - 1);
      const Known k = knownOf(*in.at(x0, y0));
      const bool same = k == knownOf(*in.at(x1, y0)) && k == knownOf(*in.at(x0, y1)) && k == knownOf(*in.at(x1, y1));
      *out.at(x, y) = !same || k == Known::undecided ? kUndecided : (k == Known::subject ? kSubject : kBackground);
    }
  }
  return out;
}

Raster<float> enlarged(const Raster<float>& half, base::Size size, base::Executor& executor) {
  Raster<float> out(size.width, size.height);
  executor.forEach(size.height, [&](int y) {
    for (int x = 0; x < size.width; ++x) *out.at(x, y) = bilinear(half, (float(x) + 0.5f) / 2, (float(y) + 0.5f) / 2);
  });
  return out;
}

}  // namespace hseam::matte
