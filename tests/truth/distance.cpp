#include "truth/distance.h"

#include "core/image/lab.h"

namespace hseam::truth {

double meanDistance(const image::Raster<float>& a, const image::Raster<float>& b, const image::Raster<float>& where) {
  const auto labAt = [](const image::Raster<float>& r, std::size_t i) {
    const float* v = r.samples().data() + i * std::size_t(r.channels());
    return image::labFromEncoded({double(v[0]), double(v[1]), double(v[2])});
  };
  double sum = 0;
  std::size_t n = 0;
  for (std::size_t i = 0; i < where.samples().size(); ++i) {
    if (where.samples()[i] <= 0.5f) continue;
    sum += image::deltaE2000(labAt(a, i), labAt(b, i));
    ++n;
  }
  return n > 0 ? sum / double(n) : 0;
}

}  // namespace hseam::truth
