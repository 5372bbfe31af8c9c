#include "core/measure/pixels.h"

#include <algorithm>
#include <bit>
#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"
#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

cv::Mat matOf(image::Raster<std::uint8_t>& r) {
  return {r.height(), r.width(), CV_8U, r.samples().data()};
}

// Halley's step on a third of the exponent, twice: within 1e-6 of the root, and in vector registers, which std::cbrt is not.
float cubeRoot(float v) {
  const auto third = std::bit_cast<std::uint32_t>(v) / 3 + 709'921'077u;
  float r = std::bit_cast<float>(third);
  for (int i = 0; i < 2; ++i) {
    const float cube = r * r * r;
    r *= (cube + 2 * v) / (2 * cube + v);
  }
  return r;
}

}  // namespace

Population populationOf(const Part& part, int step) {
  Population out;
  for (int y = 0; y < part.colours.height(); y += step) {
    for (int x = 0; x < part.colours.width(); x += step) {
      if (*part.counts.at(x, y) == 0) continue;
      const float* c = part.colours.at(x, y);
      const image::Lab lab = image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])});
      out.l.push_back(float(lab.l));
      out.a.push_back(float(lab.a));
      out.b.push_back(float(lab.b));
    }
  }
  return out;
}

float quantile(std::vector<float> values, double share) {
  const auto at = std::size_t(std::clamp(share * double(values.size() - 1) + 0.5, 0.0, double(values.size() - 1)));
  std::nth_element(values.begin(), values.begin() + long(at), values.end());
  return values[at];
}

image::Raster<std::uint8_t> inside(const image::Raster<float>& colours, float least, int px) {
  image::Raster<std::uint8_t> out(colours.width(), colours.height(), 1);
  for (std::size_t i = 0; i < out.pixels(); ++i) out.samples()[i] = colours.samples()[4 * i + 3] >= least ? 255 : 0;
  if (px > 0) {
    cv::Mat m = matOf(out);
    // What lies beyond the part is not known: it does not take anything away.
    cv::erode(m, m, cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * px + 1, 2 * px + 1}));
  }
  return out;
}

image::Raster<std::uint8_t> ringAround(const image::Raster<std::uint8_t>& what, int px,
                                       const image::Raster<std::uint8_t>& without) {
  image::Raster<std::uint8_t> source = what, out(what.width(), what.height(), 1);
  cv::Mat far, m = matOf(source);
  cv::distanceTransform(m == 0, far, cv::DIST_L2, 3);
  for (int y = 0; y < out.height(); ++y) {
    const float* d = far.ptr<float>(y);
    for (int x = 0; x < out.width(); ++x) *out.at(x, y) = d[x] <= float(px) && *without.at(x, y) == 0 ? 255 : 0;
  }
  return out;
}

image::Raster<float> lightnessOf(const image::Raster<float>& colours) {
  image::Raster<float> out(colours.width(), colours.height(), 1);
  for (std::size_t i = 0; i < out.pixels(); ++i) {
    const float* c = colours.samples().data() + 4 * i;
    const float y = 0.2225f * image::fastLinear(c[0]) + 0.7169f * image::fastLinear(c[1]) + 0.0606f * image::fastLinear(c[2]);
    out.samples()[i] = y > 216.f / 24389 ? 116 * cubeRoot(y) - 16 : y * (24389.f / 27);
  }
  return out;
}

}  // namespace hseam::measure
