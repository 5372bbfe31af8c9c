#include "core/matte/along.h"

#include <algorithm>
#include <cmath>

namespace hseam::matte {

std::vector<double> smoothedAlong(const Unrolled& outline, const std::vector<double>& values, double sigmaPx,
                                  const std::vector<double>* weights) {
  if (sigmaPx <= 0) return values;
  std::vector<double> out(values.size());
  const int reach = int(std::ceil(3 * sigmaPx));
  std::vector<double> kernel;
  for (int k = -reach; k <= reach; ++k) kernel.push_back(std::exp(-0.5 * k * k / (sigmaPx * sigmaPx)));
  for (std::size_t first = 0; first < values.size();) {
    std::size_t end = first;
    while (end < values.size() && outline.places[end].outline == outline.places[first].outline) ++end;
    const int n = int(end - first), r = std::min(reach, n / 2);
    for (int i = 0; i < n; ++i) {
      double sum = 0, all = 0;
      for (int k = -r; k <= r; ++k) {
        const std::size_t at = first + std::size_t(((i + k) % n + n) % n);
        const double w = kernel[std::size_t(k) + std::size_t(reach)] * (weights ? (*weights)[at] : 1.0);
        sum += w * values[at];
        all += w;
      }
      out[first + std::size_t(i)] = all > 0 ? sum / all : values[first + std::size_t(i)];
    }
    first = end;
  }
  return out;
}

}  // namespace hseam::matte
