#include "core/measure/seam.h"

#include <algorithm>
#include <cmath>

namespace hseam::measure {
namespace {

float greyOf(const std::array<float, 3>& c) {
  return 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
}

}  // namespace

SeamPairs pairsAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                      const std::vector<OutlinePlace>& outline) {
  SeamPairs out;
  const int w = own.width(), h = own.height();
  for (std::size_t i = 0; i < outline.size(); i += 2) {
    const OutlinePlace& p = outline[i];
    std::array<float, 3> in{}, there{};
    int ins = 0, theres = 0;
    for (int d = 3; d <= 9; ++d) {
      const int ix = int(p.x - p.nx * float(d)), iy = int(p.y - p.ny * float(d)), ox = int(p.x + p.nx * float(d)),
                oy = int(p.y + p.ny * float(d));
      if (ix >= 0 && iy >= 0 && ix < w && iy < h && own.at(ix, iy)[3] > 0.97f) {
        for (std::size_t c = 0; c < 3; ++c) in[c] += own.at(ix, iy)[c];
        ++ins;
      }
      if (ox >= 0 && oy >= 0 && ox < w && oy < h && own.at(ox, oy)[3] < 0.02f && scene.at(ox, oy)[3] > 0.97f) {
        for (std::size_t c = 0; c < 3; ++c) there[c] += scene.at(ox, oy)[c];
        ++theres;
      }
    }
    if (ins < 4 || theres < 4) continue;
    for (std::size_t c = 0; c < 3; ++c) in[c] /= float(ins), there[c] /= float(theres);
    out.inside.push_back(in);
    out.outside.push_back(there);
  }
  const auto n = double(out.inside.size());
  if (n < 2) return out;
  double si = 0, so = 0, sii = 0, soo = 0, sio = 0;
  for (std::size_t i = 0; i < out.inside.size(); ++i) {
    const double a = double(greyOf(out.inside[i])), b = double(greyOf(out.outside[i]));
    si += a, so += b, sii += a * a, soo += b * b, sio += a * b;
  }
  const double va = sii / n - si / n * si / n, vb = soo / n - so / n * so / n;
  out.likeness = va > 1e-9 && vb > 1e-9 ? (sio / n - si / n * so / n) / std::sqrt(va * vb) : 0;
  return out;
}

}  // namespace hseam::measure
