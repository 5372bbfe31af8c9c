#include "core/matte/ground.h"

#include "core/image/level.h"

#include <algorithm>
#include <map>

#include "core/image/lab.h"

namespace hseam::matte {
namespace {

constexpr std::array<double, 3> kMidGreen = {0.30, 0.60, 0.32};
// Short of the full range: a screen full of pure cyan tires the eyes, and a shade less shows an edge as well.
constexpr std::array<double, 6> kShades = {0.10, 0.25, 0.40, 0.55, 0.70, 0.85};
constexpr int kBins = 8;  // a side of the colour cube in which edge colours are gathered

}  // namespace

base::Result<std::array<double, 3>> contrastingGround(const image::TiledImage& colours, const image::TiledImage& mask) {
  const int level = image::levelOfAtMost(colours, 250e3);
  const base::Rect all = base::Rect::of(colours.level(level).size);
  HSEAM_TRY(const image::Raster<float> c, image::readFloat(colours, level, all));
  HSEAM_TRY(const image::Raster<float> m, image::readFloat(mask, level, all));
  std::map<int, int> bins;
  int edge = 0;
  for (std::size_t i = 0; i < m.samples().size(); ++i) {
    if (m.samples()[i] < 0.15f || m.samples()[i] > 0.95f) continue;
    const float* p = c.samples().data() + i * std::size_t(c.channels());
    int bin = 0;
    for (int k = 0; k < 3; ++k) bin = bin * kBins + std::clamp(int(p[k] * kBins), 0, kBins - 1);
    ++bins[bin];
    ++edge;
  }
  if (edge == 0) return kMidGreen;
  std::vector<image::Lab> present;
  for (const auto& [bin, count] : bins) {
    // Colours that make up less than 1 % of the edge do not decide.
    if (count * 100 < edge) continue;
    const auto centre = [&](int k) { return (k + 0.5) / kBins; };
    present.push_back(image::labFromEncoded({centre(bin / (kBins * kBins)), centre(bin / kBins % kBins), centre(bin % kBins)}));
  }
  std::array<double, 3> best = kMidGreen;
  double widest = -1;
  for (const double r : kShades) {
    for (const double g : kShades) {
      for (const double b : kShades) {
        const std::array<double, 3> candidate = {r, g, b};
        const image::Lab lab = image::labFromEncoded(candidate);
        double nearest = 1e9;
        for (const image::Lab& p : present) nearest = std::min(nearest, image::deltaE2000(p, lab));
        if (nearest > widest) widest = nearest, best = candidate;
      }
    }
  }
  return best;
}

}  // namespace hseam::matte
