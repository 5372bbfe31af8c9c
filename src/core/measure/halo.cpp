#include "core/measure/halo.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "core/image/lab.h"
#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

using Light = std::array<double, 3>;  // linear, 0..1

// Sums of L*a*b* and of light over places that are covered.
struct MeanColour {
  image::Lab sum{0, 0, 0};
  Light lights{};
  int n = 0;
  void add(const float* c) {
    const image::Lab lab = image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])});
    sum.l += lab.l, sum.a += lab.a, sum.b += lab.b, ++n;
    for (std::size_t k = 0; k < 3; ++k) lights[k] += image::linearFromEncoded(double(c[k]));
  }
  image::Lab mean() const { return {sum.l / n, sum.a / n, sum.b / n}; }
  Light light() const { return {lights[0] / n, lights[1] / n, lights[2] / n}; }
};
image::Lab minus(const image::Lab& a, const image::Lab& b) {
  return {a.l - b.l, a.a - b.a, a.b - b.b};
}
double size(const image::Lab& a) {
  return std::sqrt(a.l * a.l + a.a * a.a + a.b * a.b);
}
const float* nearest(const image::Raster<float>& r, float x, float y) {
  return r.at(std::clamp(int(x), 0, r.width() - 1), std::clamp(int(y), 0, r.height() - 1));
}

// What an edge's colour has beyond what is expected there.
struct EdgeStep {
  image::Lab by, in;
  image::Lab across{0, 0, 0};  // from the inside to what lies beyond; only where surfaces go on
  // Only where they do not: light 4 to 8 and 8 to 12 px from the edge, and what lies 2.5 to 4 and 4.5 to 6.5 px from it has
  // beyond what lies 8 to 12 px from it.
  Light inside{}, deeper{};
  image::Lab rim{0, 0, 0}, rimFurther{0, 0, 0};
  const OutlinePlace* at;
};
constexpr float kEdgeFrom = 0.25f, kEdgeTo = 0.9f, kWhole = 0.97f;
constexpr double kMostUneven = 14, kMostAcross = 24;  // L*a*b*: what lies beside the edge must be alike

std::optional<EdgeStep> stepAt(const image::Raster<float>& colours, const image::Raster<float>* beyond, const OutlinePlace& p) {
  MeanColour edge, in, deep, out, rim, rimFurther;
  for (int k = 0; k <= 32; ++k) {
    const float d = 0.5f * float(k) - 12;
    const float* c = nearest(colours, p.x + p.nx * d, p.y + p.ny * d);
    if (d > -4 && c[3] > kEdgeFrom && c[3] < kEdgeTo) edge.add(c);
    if (d >= -8 && d <= -4 && c[3] > kWhole) in.add(c);
    if (d < -8 && c[3] > kWhole) deep.add(c);
    if (d >= -4 && d <= -2.5f && c[3] > kWhole) rim.add(c);
    if (d >= -6.5f && d <= -4.5f && c[3] > kWhole) rimFurther.add(c);
  }
  if (edge.n == 0 || in.n < 5) return std::nullopt;
  if (!beyond) {
    if (deep.n < 5) return std::nullopt;
    const image::Lab trend = minus(in.mean(), deep.mean());
    if (size(trend) > kMostUneven) return std::nullopt;
    EdgeStep s{minus(edge.mean(), in.mean()), in.mean(), {0, 0, 0}, in.light(), deep.light(), {0, 0, 0}, {0, 0, 0}, &p};
    if (rim.n > 0 && rimFurther.n > 0)
      s.rim = minus(rim.mean(), deep.mean()), s.rimFurther = minus(rimFurther.mean(), deep.mean());
    return s;
  }
  for (int k = 0; k <= 8; ++k) {
    const float d = 4 + 0.5f * float(k);
    const float* c = nearest(*beyond, p.x + p.nx * d, p.y + p.ny * d);
    if (c[3] > kWhole) out.add(c);
  }
  if (out.n < 5) return std::nullopt;
  const image::Lab across = minus(out.mean(), in.mean());
  if (size(across) > kMostAcross) return std::nullopt;
  return EdgeStep{minus(edge.mean(), in.mean()), in.mean(), across, {}, {}, {0, 0, 0}, {0, 0, 0}, &p};
}

template <class Of>
double medianOf(const std::vector<EdgeStep>& steps, const Of& of) {
  std::vector<float> v;
  v.reserve(steps.size());
  for (const EdgeStep& s : steps) v.push_back(float(of(s)));
  return double(quantile(std::move(v), 0.5));
}
// The mean without the outermost tenths: where texture swings to both sides, its middle is not where most of it lies.
template <class Of>
double trimmedMeanOf(const std::vector<EdgeStep>& steps, const Of& of) {
  std::vector<double> v;
  v.reserve(steps.size());
  for (const EdgeStep& s : steps) v.push_back(of(s));
  std::sort(v.begin(), v.end());
  const std::size_t off = v.size() / 10;
  double sum = 0;
  for (std::size_t i = off; i < v.size() - off; ++i) sum += v[i];
  return sum / double(v.size() - 2 * off);
}

// An edge lies half-way to what is beyond it; what all of the subject has beyond the scene (a cast) is no part of that.
void takeOutWay(std::vector<EdgeStep>& steps) {
  const image::Lab usual{trimmedMeanOf(steps, [](const EdgeStep& s) { return s.across.l; }),
                         trimmedMeanOf(steps, [](const EdgeStep& s) { return s.across.a; }),
                         trimmedMeanOf(steps, [](const EdgeStep& s) { return s.across.b; })};
  for (EdgeStep& s : steps) {
    const image::Lab way = minus(s.across, usual);
    s.by = minus(s.by, {way.l / 2, way.a / 2, way.b / 2});
  }
}

// A skin, a bloom, a rim light or a thing that light shines through is a rim as well, but its own: it goes on where coverage is
// whole and fades towards the inside. What it has 3 and 5 px inside says what it has at the edge, if each px inwards takes the
// same share of it. What is left of another ground ends where coverage is whole. Nothing: no such rim.
image::Lab ownRim(const image::Lab& rim, const image::Lab& further, const image::Lab& in) {
  constexpr double kFades = 0.35;      // of a rim's colour, at least this is still there 2 px further in
  constexpr double kMostGrowth = 2.2;  // in 2 px outwards
  constexpr double kOutwards = 1.5;    // times 2 px, from there to the edge
  const double square = rim.l * rim.l + rim.a * rim.a + rim.b * rim.b;
  if (square < 1) return {0, 0, 0};
  const double stays = (rim.l * further.l + rim.a * further.a + rim.b * further.b) / square;
  if (stays < kFades) return {0, 0, 0};
  const double k = std::pow(std::clamp(1 / stays, 1.0, kMostGrowth), kOutwards);
  return minus({rim.l * k, rim.a * k, rim.b * k}, in);
}

// Of what an edge has, what lies in the direction of `known` is taken out, up to all of it.
void takeOut(const image::Lab& known, image::Lab& from) {
  const double square = known.l * known.l + known.a * known.a + known.b * known.b;
  if (square < 1e-6) return;
  const double share = std::clamp((from.l * known.l + from.a * known.a + from.b * known.b) / square, 0.0, 1.0);
  from = minus(from, {known.l * share, known.a * share, known.b * share});
}

// A round thing's light falls towards its limb with the root of the distance from it: what it changes by from 10 to 6 px inside,
// nearby along the outline, says what it changes by from there to the edge, at most. Only what comes on top counts.
void takeOutOwn(std::vector<EdgeStep>& steps) {
  constexpr int kNearby = 12;
  constexpr double kDeeper = 10, kInside = 6, kEdge = 0.5;  // px from the limb, of the places that are read
  const double further = (std::sqrt(kInside) - std::sqrt(kEdge)) / (std::sqrt(kDeeper) - std::sqrt(kInside));
  const auto labOf = [](const Light& light) {
    Light encoded;
    for (std::size_t k = 0; k < 3; ++k) encoded[k] = image::encodedFromLinear(std::clamp(light[k], 0.0, 1.0));
    return image::labFromEncoded(encoded);
  };
  for (int i = 0; i < int(steps.size()); ++i) {
    EdgeStep& s = steps[std::size_t(i)];
    Light inside{}, deeper{};
    image::Lab rim{0, 0, 0}, rimFurther{0, 0, 0};
    int n = 0;
    for (int k = std::max(0, i - kNearby); k <= std::min(int(steps.size()) - 1, i + kNearby); ++k) {
      const EdgeStep& o = steps[std::size_t(k)];
      if (std::hypot(o.at->x - s.at->x, o.at->y - s.at->y) > 2 * kNearby) continue;  // of another outline
      for (std::size_t c = 0; c < 3; ++c) inside[c] += o.inside[c], deeper[c] += o.deeper[c];
      rim.l += o.rim.l, rim.a += o.rim.a, rim.b += o.rim.b;
      rimFurther.l += o.rimFurther.l, rimFurther.a += o.rimFurther.a, rimFurther.b += o.rimFurther.b;
      ++n;
    }
    Light limb;
    for (std::size_t c = 0; c < 3; ++c) {
      inside[c] /= n, deeper[c] /= n;
      limb[c] = inside[c] + further * (inside[c] - deeper[c]);
    }
    const image::Lab shading = minus(labOf(limb), labOf(inside));
    const image::Lab own = ownRim({rim.l / n, rim.a / n, rim.b / n}, {rimFurther.l / n, rimFurther.a / n, rimFurther.b / n},
                                  minus(labOf(inside), labOf(deeper)));
    takeOut(size(own) > size(shading) ? own : shading, s.by);
  }
}

Halo haloFrom(const std::vector<EdgeStep>& steps) {
  Halo out;
  if (steps.size() < 20) {
    out.size = unavailable("too little of the outline is soft and even inside");
    return out;
  }
  out.l = trimmedMeanOf(steps, [](const EdgeStep& s) { return s.by.l; });
  out.a = trimmedMeanOf(steps, [](const EdgeStep& s) { return s.by.a; });
  out.b = trimmedMeanOf(steps, [](const EdgeStep& s) { return s.by.b; });
  const double whole = size({out.l, out.a, out.b});
  std::vector<float> along;
  along.reserve(steps.size());
  for (const EdgeStep& s : steps) {
    along.push_back(whole > 1e-6 ? float((s.by.l * out.l + s.by.a * out.a + s.by.b * out.b) / whole) : 0.f);
    if (whole > 1e-6 && double(along.back()) > whole / 2) {
      out.length += 2;
      out.where = out.where.united({int(s.at->x) - 2, int(s.at->y) - 2, 5, 5});
    }
  }
  out.share = out.length / 2 / double(steps.size());
  const image::Lab in{medianOf(steps, [](const EdgeStep& s) { return s.in.l; }),
                      medianOf(steps, [](const EdgeStep& s) { return s.in.a; }),
                      medianOf(steps, [](const EdgeStep& s) { return s.in.b; })};
  const double e = image::deltaE2000(in, {std::clamp(in.l + out.l, 0.0, 100.0), in.a + out.a, in.b + out.b});
  const double spread = double(quantile(along, 0.75) - quantile(along, 0.25)) / 1.35 / std::sqrt(double(steps.size()) / 15);
  out.size = available(e, spread * e / std::max(1.0, whole));
  return out;
}

Halo haloBy(const image::Raster<float>& colours, const image::Raster<float>* beyond, const std::vector<OutlinePlace>& outline) {
  std::vector<EdgeStep> steps;
  for (std::size_t i = 0; i < outline.size(); i += 2) {
    if (const auto s = stepAt(colours, beyond, outline[i])) steps.push_back(*s);
  }
  if (beyond && !steps.empty()) takeOutWay(steps);
  if (!beyond) takeOutOwn(steps);
  return haloFrom(steps);
}

}  // namespace

Halo haloOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline) {
  return haloBy(colours, nullptr, outline);
}
Halo haloAcross(const image::Raster<float>& colours, const image::Raster<float>& scene,
                const std::vector<OutlinePlace>& outline) {
  return haloBy(colours, &scene, outline);
}

}  // namespace hseam::measure
