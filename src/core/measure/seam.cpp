#include "core/measure/seam.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/image/lab.h"
#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

double medianOf(std::vector<float> v) {
  return double(quantile(std::move(v), 0.5));
}
double deviationOf(const std::vector<float>& v, double middle) {
  std::vector<float> away;
  away.reserve(v.size());
  for (const float x : v) away.push_back(float(std::abs(double(x) - middle)));
  return medianOf(std::move(away)) / 0.6745;
}

}  // namespace

float greyOf(const std::array<float, 3>& c) {
  return 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
}

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

double Line::spreadAt(double x) const {
  if (count < 2) return INFINITY;
  const double lever = (x - middle) / std::max(1e-6, spreadX);
  // Medians are less sure than means by about a quarter; neighbours along the outline are no independent pairs.
  return 1.25 * noise * std::sqrt((1 + lever * lever) / std::max(1.0, double(count) / 8));
}

Line lineThrough(const std::vector<float>& x, const std::vector<float>& y) {
  Line l;
  l.count = x.size();
  if (x.size() < 8) return l;
  std::vector<float> xs = x, ys = y;
  std::sort(xs.begin(), xs.end());
  std::sort(ys.begin(), ys.end());
  l.middle = medianOf(x);
  l.spreadX = std::max(1e-6, deviationOf(x, l.middle));
  const std::size_t from = xs.size() / 20, to = xs.size() - 1 - from;
  l.low = double(xs[from]), l.high = double(xs[to]);
  std::mt19937 random(1);
  std::uniform_int_distribution<std::size_t> any(from, to);
  std::vector<float> slopes, rest;
  for (int k = 0; k < 6000; ++k) {
    const std::size_t i = any(random), j = any(random);
    if (std::abs(xs[i] - xs[j]) > 0.5f * float(l.spreadX)) slopes.push_back((ys[i] - ys[j]) / (xs[i] - xs[j]));
  }
  if (slopes.size() > 50) l.slope = medianOf(std::move(slopes));
  for (std::size_t i = from; i <= to; ++i) rest.push_back(ys[i] - float(l.slope) * xs[i]);
  l.offset = medianOf(rest);
  rest.clear();
  for (std::size_t i = 0; i < x.size(); ++i) rest.push_back(y[i] - float(l.at(double(x[i]))));
  l.noise = deviationOf(rest, 0);
  return l;
}

SeamCast castAcross(const SeamPairs& pairs) {
  std::vector<float> red, blue;
  for (std::size_t i = 0; i < pairs.inside.size(); ++i) {
    const auto &a = pairs.inside[i], &b = pairs.outside[i];
    const auto usable = [](const std::array<float, 3>& c) {
      return std::min({c[0], c[1], c[2]}) > 0.08f && std::max({c[0], c[1], c[2]}) < 0.95f;
    };
    if (!usable(a) || !usable(b)) continue;
    const auto light = [](float v) { return std::log(image::linearFromEncoded(double(v))); };
    red.push_back(float(light(a[0]) - light(a[1]) - light(b[0]) + light(b[1])));
    blue.push_back(float(light(a[2]) - light(a[1]) - light(b[2]) + light(b[1])));
  }
  if (red.size() < 40) return {};
  const double r = medianOf(red), b = medianOf(blue), grey = image::linearFromEncoded(0.5663);
  const auto labOf = [grey](double red_, double blue_) {
    return image::labFromEncoded({image::encodedFromLinear(std::min(1.0, grey * std::exp(red_))), 0.5663,
                                  image::encodedFromLinear(std::min(1.0, grey * std::exp(blue_)))});
  };
  const image::Lab lab = labOf(r, b);
  const double n = std::sqrt(double(red.size()) / 8), dr = deviationOf(red, r) / n, db = deviationOf(blue, b) / n;
  const image::Lab off = labOf(r + 1.25 * dr, b + 1.25 * db);
  return {true, lab.a, lab.b, std::hypot(off.a - lab.a, off.b - lab.b)};
}

double saturationRatherThanCast(const SeamPairs& pairs) {
  std::vector<float> values[4];  // a, b inside; a, b outside
  for (std::size_t i = 0; i < pairs.inside.size(); ++i) {
    for (std::size_t side = 0; side < 2; ++side) {
      const auto& c = side == 0 ? pairs.inside[i] : pairs.outside[i];
      const image::Lab lab = image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])});
      values[2 * side].push_back(float(lab.a));
      values[2 * side + 1].push_back(float(lab.b));
    }
  }
  if (values[0].size() < 40) return 0;
  double middle[4], spread[4];
  for (int k = 0; k < 4; ++k) middle[k] = medianOf(values[k]), spread[k] = deviationOf(values[k], middle[k]);
  const double in = std::hypot(middle[0], middle[1]), out = std::hypot(middle[2], middle[3]);
  const double byA = middle[0] - middle[2], byB = middle[1] - middle[3], by = std::hypot(byA, byB);
  const double spreads = std::log((std::hypot(spread[0], spread[1]) + 0.3) / (std::hypot(spread[2], spread[3]) + 0.3));
  // Off its own hue it can only be a cast.
  if (out < 2 || by < 0.5) return std::abs(spreads) > 0.15 ? 1 : 0;
  const double aligned = std::abs(byA * middle[2] + byB * middle[3]) / (by * out);
  if (aligned < 0.8) return -1;
  const double wanted = std::log((in + 0.3) / (out + 0.3));
  return std::clamp((std::abs(spreads) - std::abs(spreads - wanted)) / std::max(0.05, std::abs(wanted)), -1.0, 1.0);
}

Reading saturationAcross(const SeamPairs& pairs) {
  // By how the chroma of both sides is spread, not pair by pair: the two are never quite the same surface.
  std::vector<float> in, there, away;
  for (std::size_t i = 0; i < pairs.inside.size(); ++i) {
    const auto chroma = [](const std::array<float, 3>& c) {
      const image::Lab lab = image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])});
      return float(lab.l < 8 || lab.l > 97 ? -1 : std::hypot(lab.a, lab.b));
    };
    const float a = chroma(pairs.inside[i]), b = chroma(pairs.outside[i]);
    if (a < 0 || b < 0) continue;
    in.push_back(a);
    there.push_back(b);
    away.push_back(std::log((a + 1) / (b + 1)));
  }
  if (in.size() < 40 || quantile(there, 0.7) < 6) return cannotTell("there is too little colour along the seam");
  double ratio = 0;
  for (const double share : {0.4, 0.5, 0.6, 0.7, 0.8})
    ratio += std::log((double(quantile(in, share)) + 0.3) / (double(quantile(there, share)) + 0.3)) / 5;
  const double k = std::exp(ratio);
  return told(k, k * 1.25 * deviationOf(away, medianOf(away)) / std::sqrt(double(in.size()) / 8));
}

}  // namespace hseam::measure
