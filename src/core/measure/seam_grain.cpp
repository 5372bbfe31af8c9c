#include "core/measure/seam_grain.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace hseam::measure {
namespace {

constexpr int kSquare = 8;
constexpr float kAway = 9;  // px from the outline to the square's middle
constexpr std::size_t kStep = 4;
constexpr std::size_t kFewPairs = 40;
constexpr int kDraws = 60, kStretches = 20;

// Mean squares of differences, scaled so that white noise of variance v gives v in `fine` and v / 4 in `coarse`.
struct Detail {
  float fine = 0, coarse = 0;
};

float lumaAt(const image::Raster<float>& r, int x, int y) {
  const float* c = r.at(x, y);
  return 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
}

// Nothing: not all of the square is wholly covered (by own) or wholly free of it.
std::optional<Detail> detailAt(const image::Raster<float>& colours, const image::Raster<float>& own, bool covered, float px, float py) {
  const int left = int(px) - kSquare / 2, top = int(py) - kSquare / 2;
  if (left < 0 || top < 0 || left + kSquare > own.width() || top + kSquare > own.height()) return std::nullopt;
  for (int y = top; y < top + kSquare; ++y) {
    for (int x = left; x < left + kSquare; ++x) {
      const float a = own.at(x, y)[3];
      if (covered ? a < 0.98f : a > 0.01f || colours.at(x, y)[3] < 0.98f) return std::nullopt;
      const float l = lumaAt(colours, x, y);
      if (l < 0.01f || l > 0.985f) return std::nullopt;  // clipped: its noise is cut off
    }
  }
  Detail d;
  float means[4][4];
  for (int v = 0; v < 4; ++v) {
    for (int u = 0; u < 4; ++u) {
      const int x = left + 2 * u, y = top + 2 * v;
      const float a = lumaAt(colours, x, y), b = lumaAt(colours, x + 1, y), c = lumaAt(colours, x, y + 1),
                  e = lumaAt(colours, x + 1, y + 1);
      d.fine += (a - b - c + e) * (a - b - c + e) / 4 / 16;
      means[v][u] = (a + b + c + e) / 4;
    }
  }
  for (int v = 0; v < 4; v += 2) {
    for (int u = 0; u < 4; u += 2) {
      const float a = means[v][u], b = means[v][u + 1], c = means[v + 1][u], e = means[v + 1][u + 1];
      d.coarse += ((a - b + c - e) * (a - b + c - e) + (a + b - c - e) * (a + b - c - e)) / 8 / 4;
    }
  }
  return d;
}

double noiseOf(const std::vector<Detail>& in, const std::vector<Detail>& out, const std::vector<std::size_t>& of) {
  std::vector<float> fineIn, fineOut, coarseIn, coarseOut;
  for (const std::size_t i : of) {
    fineIn.push_back(in[i].fine), fineOut.push_back(out[i].fine);
    coarseIn.push_back(in[i].coarse), coarseOut.push_back(out[i].coarse);
  }
  for (auto* v : {&fineIn, &fineOut, &coarseIn, &coarseOut}) std::sort(v->begin(), v->end());
  const auto at = [](const std::vector<float>& v, double share) { return double(v[std::size_t(share * double(v.size() - 1))]); };
  // By how much more contrast the texture has in there.
  double contrast = 0;
  for (const double share : {0.5, 0.6, 0.7, 0.8, 0.9}) contrast += std::log((at(coarseIn, share) + 1e-7) / (at(coarseOut, share) + 1e-7)) / 5;
  contrast = std::exp(std::clamp(contrast, -1.0, 1.0));
  std::vector<float> more;
  for (const double share : {0.1, 0.2, 0.3, 0.4, 0.5, 0.6}) more.push_back(float(at(fineIn, share) - contrast * at(fineOut, share)));
  return double(quantile(std::move(more), 0.5));
}

}  // namespace

Reading noiseAcross(const image::Raster<float>& own, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline) {
  std::vector<Detail> in, out;
  for (std::size_t i = 0; i < outline.size(); i += kStep) {
    const OutlinePlace& p = outline[i];
    const auto inside = detailAt(own, own, true, p.x - kAway * p.nx, p.y - kAway * p.ny);
    const auto outside = inside ? detailAt(scene, own, false, p.x + kAway * p.nx, p.y + kAway * p.ny) : std::nullopt;
    if (!outside) continue;
    in.push_back(*inside);
    out.push_back(*outside);
  }
  if (in.size() < kFewPairs) return cannotTell("too little of the seam can be compared");
  std::vector<std::size_t> all(in.size());
  for (std::size_t i = 0; i < all.size(); ++i) all[i] = i;
  const double noise = noiseOf(in, out, all);
  std::mt19937 random(11);
  std::uniform_int_distribution<std::size_t> any(0, kStretches - 1);
  double squares = 0;
  for (int k = 0; k < kDraws; ++k) {
    std::vector<std::size_t> of;
    of.reserve(in.size() + in.size() / kStretches);
    for (int s = 0; s < kStretches; ++s) {
      const std::size_t stretch = any(random);
      for (std::size_t i = stretch * in.size() / kStretches; i < (stretch + 1) * in.size() / kStretches; ++i) of.push_back(i);
    }
    squares += std::pow(noiseOf(in, out, of) - noise, 2) / kDraws;
  }
  return told(noise, std::sqrt(squares));
}

}  // namespace hseam::measure
