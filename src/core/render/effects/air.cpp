// What lies between the scene and the picture: grain, corner darkening, haze, flare. They know where a pixel lies.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/light.h"

namespace hseam::render::effects {
namespace {

// A pixel's middle in the canvas, 0..1 across and down.
struct Where {
  double x, y;
};
template <class F>
void eachPixel(const EffectWindow& w, const F& f) {
  const double sx = double(1 << w.level) / w.canvas.width, sy = double(1 << w.level) / w.canvas.height;
  int i = 0;
  for (int y = 0; y < w.area.height; ++y) {
    for (int x = 0; x < w.area.width; ++x, ++i) f(i, Where{(w.area.x + x + 0.5) * sx, (w.area.y + y + 0.5) * sy});
  }
}

// SplitMix64's mixing step (Steele, Lea, Flood 2014), of a place and a seed.
std::uint64_t mixed(std::int64_t x, std::int64_t y, std::uint64_t seed) {
  std::uint64_t z = seed * 0x9e3779b97f4a7c15u + std::uint64_t(x) * 0xbf58476d1ce4e5b9u + std::uint64_t(y) * 0x94d049bb133111ebu;
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9u;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebu;
  return z ^ (z >> 31);
}
// Near enough to a normal deviate: the sum of four uniform 16-bit numbers, variance 1.
float deviate(std::uint64_t bits) {
  float sum = 0;
  for (int k = 0; k < 4; ++k) sum += float((bits >> (16 * k)) & 0xffff);
  return (sum / 65535.f - 2.f) * 1.7320508f;
}

// Deviates of grains `size` px wide at every pixel: on a lattice of that width, smoothly between, variance 1 again.
float grainAt(double x, double y, double size, std::uint64_t seed) {
  if (size <= 1.01) return deviate(mixed(std::int64_t(std::floor(x)), std::int64_t(std::floor(y)), seed));
  const double gx = x / size, gy = y / size, fx = gx - std::floor(gx), fy = gy - std::floor(gy);
  const auto ix = std::int64_t(std::floor(gx)), iy = std::int64_t(std::floor(gy));
  const double wx[2] = {1 - fx, fx}, wy[2] = {1 - fy, fy};
  double sum = 0, squares = 0;
  for (int j = 0; j < 2; ++j) {
    for (int i = 0; i < 2; ++i) {
      const double k = wx[i] * wy[j];
      sum += k * double(deviate(mixed(ix + i, iy + j, seed)));
      squares += k * k;
    }
  }
  return float(sum / std::sqrt(squares));
}

}  // namespace

void grain(const Values& v, const EffectWindow& w, Planes& p) {
  const double step = 1 << w.level, size = std::max(1.0, v[3]);
  // Where one pixel of the level stands for many grains, they even out.
  const double left = size >= step ? 1 : size / step;
  const auto seed = std::uint64_t(std::llround(v[5])) * 4 + 1;
  const auto colour = float(v[4]), grey = std::sqrt(1 - colour * colour);
  const double cell = std::max(size, step);
  for (int y = 0, i = 0; y < w.area.height; ++y) {
    for (int x = 0; x < w.area.width; ++x, ++i) {
      const double px = (w.area.x + x + 0.5) * step, py = (w.area.y + y + 0.5) * step;
      const float t = scene::clamped(0.3f * p.colour(0)[i] + 0.59f * p.colour(1)[i] + 0.11f * p.colour(2)[i]);
      // Darks, mids and lights by straight lines between 0, one half and 1.
      const float sigma =
          float(left) * (t < 0.5f ? float(v[0]) + 2 * t * float(v[1] - v[0]) : float(v[1]) + (2 * t - 1) * float(v[2] - v[1]));
      const float all = size <= 1.01 && step > 1 ? deviate(mixed(w.area.x + x, w.area.y + y, seed)) : grainAt(px, py, cell, seed);
      for (int c = 0; c < 3; ++c) {
        float d = all;
        if (colour > 0) d = grey * all + colour * grainAt(px, py, cell, seed + 1 + std::uint64_t(c));
        p.colour(c)[i] = scene::clamped(p.colour(c)[i] + sigma * d);
      }
    }
  }
}

void corners(const Values& v, const EffectWindow& w, Planes& p) {
  const double aspect = double(w.canvas.width) / w.canvas.height, far = std::hypot(aspect, 1.0);
  eachPixel(w, [&](int i, const Where& at) {
    const double r = std::hypot((2 * at.x - 1) * aspect, 2 * at.y - 1) / far;
    const double t = std::clamp((r - v[1]) / (1 - v[1]), 0.0, 1.0), s = t * t * (3 - 2 * t);
    const auto gain = float(1 - v[0] * s);
    for (int c = 0; c < 3; ++c) p.colour(c)[i] = scene::encodedOf(scene::clamped(scene::linearOf(p.colour(c)[i]) * gain));
  });
}

void haze(const Values& v, const EffectWindow& w, Planes& p) {
  const double near = v[0], far = v[1];
  float air[3];
  for (int c = 0; c < 3; ++c) air[c] = scene::linearOf(float(v[3 + std::size_t(c)]));
  eachPixel(w, [&](int i, const Where& at) {
    const double along = near == far ? (at.y < near ? 1 : 0) : std::clamp((near - at.y) / (near - far), 0.0, 1.0);
    // Beer and Lambert: what is left of the light falls with the exponent of the way through the air.
    const auto left = float(std::pow(1 - std::min(v[2], 0.999), along));
    for (int c = 0; c < 3; ++c) p.colour(c)[i] = scene::encodedOf(scene::linearOf(p.colour(c)[i]) * left + air[c] * (1 - left));
  });
}

void flare(const Values& v, const EffectWindow& w, Planes& p) {
  const double aspect = double(w.canvas.height) / w.canvas.width, size = v[2];
  float lamp[3];
  for (int c = 0; c < 3; ++c) lamp[c] = scene::linearOf(float(v[5 + std::size_t(c)]));
  eachPixel(w, [&](int i, const Where& at) {
    const double dx = at.x - v[0], dy = (at.y - v[1]) * aspect, r = std::hypot(dx, dy) / size;
    double light = std::exp(-4 * r) + 0.15 / (1 + 30 * r * r);
    if (v[4] > 0) light += v[4] * std::pow(std::abs(std::cos(3 * std::atan2(dy, dx))), 60.0) * std::exp(-2.2 * r);
    for (int c = 0; c < 3; ++c)
      p.colour(c)[i] = scene::encodedOf(scene::clamped(scene::linearOf(p.colour(c)[i]) + float(v[3] * light) * lamp[c]));
  });
}

void lightWrap(const Values& v, const EffectWindow& w, Planes& p, const Planes& behind) {
  const double sigma = w.px(v[0]) / 2;
  if (sigma < 0.1) return;
  Planes light = behind, outside(p.count());
  toLight(light);
  for (int c = 0; c < 3; ++c) gaussianBlur(matOf(light, c, w.area), sigma);
  // How much of the surroundings is not subject: 0 deep inside, about one half at the edge.
  for (int i = 0; i < p.count(); ++i) outside.alpha()[i] = 1 - p.alpha()[i];
  gaussianBlur(matOf(outside, 3, w.area), sigma);
  for (int i = 0; i < p.count(); ++i) {
    const float share = float(v[1]) * std::min(1.f, 2 * outside.alpha()[i]);
    for (int c = 0; c < 3; ++c) {
      // Light adds without going over: as two exposures on one film that holds 1.
      const float own = scene::linearOf(p.colour(c)[i]), over = scene::clamped(share * light.colour(c)[i]);
      p.colour(c)[i] = scene::encodedOf(own + over - own * over);
    }
  }
}

}  // namespace hseam::render::effects
