#pragma once
// Somebody in front of a place, in several frames.

#include <cmath>

#include "test_main.h"
#include "truth/shown_place.h"

namespace hseam::test {

inline constexpr base::Size kMontageSize{640, 440};

// Somebody: an upright shape of their own colours, with a soft shadow beside it.
struct Figure {
  double x, y, w, h, light;
  bool holds(double px, double py) const {
    const double u = (px - x) / w, v = (py - y) / h;
    return u * u + v * v < 1;
  }
  double at(double px, double py, int c) const {
    return light * (0.75 + 0.25 * std::sin(0.35 * px + 0.2 * py + 2 * c)) * (c == 0 ? 1.2 : (c == 1 ? 0.8 : 0.6));
  }
};

inline image::TiledImage frameWith(const ShownPlace& place, const std::vector<Figure>& figures, double noiseSeed) {
  return place.frame(kMontageSize,
                     {.before =
                          [&](double x, double y, int c) {
                            for (const Figure& f : figures) {
                              if (f.holds(x, y)) return f.at(x, y, c);
                            }
                            double shade = 1;
                            for (const Figure& f : figures) {
                              const double u = (x - f.x - f.w) / f.w, v = (y - f.y - f.h) / (0.3 * f.h);
                              shade *= 1 - 0.35 * std::exp(-(u * u + v * v));
                            }
                            return shade < 0.995 ? shade * place.light(x, y, c) : -1.0;
                          }},
                     std::uint64_t(noiseSeed));
}

// A stroke through the middle of a figure.
inline void strokeThrough(image::Raster<std::uint8_t>& picks, const Figure& f, int frame) {
  for (int y = int(f.y - f.h / 2); y < int(f.y + f.h / 2); ++y) {
    for (int x = int(f.x) - 1; x <= int(f.x) + 1; ++x) *picks.at(x, y) = std::uint8_t(frame);
  }
}

struct Shares {
  double own = 0, pixels = 0;
};
inline Shares sharesIn(const image::TiledImage& labels, const Figure& f, int frame) {
  const auto read = must(image::read8(labels, 0, base::Rect::of(kMontageSize)));
  Shares s;
  for (int y = 0; y < kMontageSize.height; ++y) {
    for (int x = 0; x < kMontageSize.width; ++x) {
      if (!f.holds(x + 0.5, y + 0.5)) continue;
      s.own += *read.at(x, y) == frame;
      ++s.pixels;
    }
  }
  return s;
}

}  // namespace hseam::test
