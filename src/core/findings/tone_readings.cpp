#include "core/findings/tone_readings.h"

#include <algorithm>
#include <cmath>

#include "core/findings/remedies.h"
#include "core/findings/skin.h"
#include "core/image/lab.h"
#include "core/measure/seam_change.h"

namespace hseam::findings {
namespace {

using measure::Reading;

double lightnessOfGrey(double encoded) {
  const double g = std::clamp(encoded, 0.0, 1.0);
  return image::labFromEncoded({g, g, g}).l;
}
// As L* of a grey of that L*.
double lightnessAfter(const measure::SeamChange& change, double lightness) {
  double low = 0, high = 1;
  for (int i = 0; i < 30; ++i) (lightnessOfGrey((low + high) / 2) < lightness ? low : high) = (low + high) / 2;
  const auto c = measure::changed(change, {low, low, low});
  return image::labFromEncoded(c).l;
}
Across acrossOf(const std::vector<measure::SeamChange>& changes, const measure::Tones& scene) {
  using Kind = measure::SeamChange::Kind;
  Across out;
  out.acts = true;
  const Nearer none{true, 0, 1, {}};
  out.black = out.white = out.mid = out.cast = none;
  out.saturation = {true, 1, 0.05, {}};
  for (const measure::SeamChange& change : changes) {
    // The reading is where the change shows most: at the end of the tones that it moves.
    const auto at = [&](const Reading& tone, double fallback) {
      const double l = tone.available ? tone.value : fallback, share = change.spread / std::max(1e-6, std::abs(change.amount)),
                   by = lightnessAfter(change, l) - l;
      return Nearer{true, by, std::abs(by) * share, {}};
    };
    switch (change.kind) {
      case Kind::black:
        out.black = at(scene.black, 4);
        break;
      case Kind::white:
        out.white = at(scene.white, 96);
        break;
      case Kind::middle:
        out.mid = at(scene.mid, 50);
        break;
      case Kind::saturation:
        out.saturation = {true, std::max(0.05, 1 + change.amount), change.spread, {}};
        break;
      case Kind::cast: {
        const image::Lab lab = image::labFromEncoded(measure::changed(change, {0.5663, 0.5663, 0.5663}));
        const double size = std::hypot(lab.a, lab.b);
        out.cast = {true, size, size * change.spread / std::max(1e-6, std::hypot(change.amount, change.blue)), {}};
        out.tint = {lab.a, lab.b, size};
        break;
      }
    }
  }
  return out;
}

Variety varietyOf(const Pair& p) {
  constexpr int kAcross = 10;  // places across the scene, at most
  Variety v;
  std::size_t covered = 0;
  for (const std::uint8_t s : p.inside.samples()) covered += s != 0;
  const int side = std::max({24, int(std::sqrt(double(covered)) / 1.5), p.scene.width() / kAcross});
  std::vector<std::array<double, 2>> colours;
  for (int y = 0; y + side <= p.scene.height(); y += side / 2) {
    for (int x = 0; x + side <= p.scene.width(); x += side / 2) {
      std::vector<float> l;
      std::array<double, 2> sum{};
      for (int j = y; j < y + side; j += 3) {
        for (int i = x; i < x + side; i += 3) {
          if (*p.whole.at(i, j) == 0) continue;
          const float* q = p.scene.at(i, j);
          const image::Lab lab = image::labFromEncoded({double(q[0]), double(q[1]), double(q[2])});
          l.push_back(float(lab.l));
          sum[0] += lab.a, sum[1] += lab.b;
        }
      }
      if (int(l.size()) * 9 < side * side / 2) continue;
      colours.push_back({sum[0] / double(l.size()), sum[1] / double(l.size())});
      v.mids.push_back(measure::quantile(std::move(l), 0.5));
    }
  }
  std::array<double, 2> mean{};
  const double n = double(std::max<std::size_t>(1, colours.size()));
  for (const auto& c : colours) mean[0] += c[0] / n, mean[1] += c[1] / n;
  for (const auto& c : colours) v.hue += (std::pow(c[0] - mean[0], 2) + std::pow(c[1] - mean[1], 2)) / n;
  v.hue = std::sqrt(v.hue);
  return v;
}

// Every second px of every second row says as much of a large picture.
constexpr std::size_t kManyPixels = 700'000, kWholeScene = 4'000;

}  // namespace

double Nearer::beyond(bool ratio) const {
  if (!ratio) return std::copysign(std::max(0.0, std::abs(reading) - allowance), reading);
  const double factor = std::max(1.0, allowance);
  return reading > 1 ? std::max(1.0, reading / factor) : std::min(1.0, reading * factor);
}

Nearer difference(const Reading& own, const Reading& ring, const Reading& whole) {
  if (!own.available) return {false, 0, 0, Words(own.reason)};
  if (!whole.available) return {false, 0, 0, Words(Says::ofTheScene, whole.reason)};
  const double byWhole = own.value - whole.value, spread = std::hypot(own.spread, whole.spread);
  if (!ring.available) return {true, byWhole, spread, {}};
  const double byRing = own.value - ring.value;
  if (byRing * byWhole <= 0) return {true, 0, spread, {}};
  return {true, std::abs(byRing) < std::abs(byWhole) ? byRing : byWhole, spread, {}};
}
Nearer ratio(const Reading& own, const Reading& ring, const Reading& whole) {
  const auto logged = [](Reading r) {
    const double v = std::max(1e-3, r.value);
    r.spread /= v;
    r.value = std::log(v);
    return r;
  };
  Nearer n = difference(logged(own), logged(ring), logged(whole));
  n.reading = std::exp(n.reading);
  n.spread *= n.reading;
  return n;
}

void take(const Case& c, KindId kind, const Nearer& n, const std::function<void(Verdict&, double beyond)>& out) {
  Verdict v = c.begin(kind);
  v.available = n.available;
  v.reason = n.reason;
  const Kind& k = kindOf(kind);
  v.target = k.ratio ? 1 : 0;
  if (n.available) {
    v.reading = n.reading;
    v.spread = n.spread;
    v.excess = excessOf(k, n.beyond(k.ratio), v.target, v.tolerance);
    if (v.out()) out(v, n.beyond(k.ratio));
  }
  c.add(std::move(v));
}

Words aboveOrUnder(double by) {
  return {by > 0 ? Says::above : Says::under, std::abs(by)};
}

ToneReadings toneReadingsOf(const Pair& p, bool marked) {
  const int step = p.own.pixels() > kManyPixels ? 2 : 1;
  ToneReadings r{p,
                 measure::populationOf({p.own, p.inside}, step),
                 measure::populationOf({p.scene, p.ring}, step),
                 measure::populationOf({p.scene, p.whole}, step),
                 {},
                 {},
                 {},
                 {},
                 {},
                 varietyOf(p),
                 marked};
  r.t = measure::tonesOf(r.own);
  r.tr = measure::tonesOf(r.ring);
  r.tw = measure::tonesOf(r.whole);
  // Of a whole scene the tones end somewhere, be it in haze.
  if (!r.tw.black.available && r.whole.size() > kWholeScene)
    r.tw.black = {true, double(measure::quantile(r.whole.l, 0.005)), kHazy, {}};
  if (!r.tw.white.available && r.whole.size() > kWholeScene)
    r.tw.white = {true, double(measure::quantile(r.whole.l, 0.995)), kHazy, {}};
  // Where the user says what to compare with, the seam does not say it, and other places count for nothing.
  if (marked) {
    r.variety = {};
    r.colours = r.own;
    return r;
  }
  const measure::SeamPairs pairs = measure::pairsAcross(p.own, p.scene, measure::outlineOf(p.own));
  const measure::AcrossSeam across = measure::acrossSeam(pairs);
  if (across.surfaceContinues) {
    r.across = acrossOf(across.changes, r.tw);
    r.colours = r.own;
  } else {
    r.colours = measure::populationOf({p.own, withoutSkin(p)}, step);
  }
  return r;
}

}  // namespace hseam::findings
