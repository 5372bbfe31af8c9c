#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/remedies.h"
#include "core/image/lab.h"
#include "core/measure/seam_change.h"
#include "core/measure/tones.h"

namespace hseam::findings {
namespace {

using measure::Population;
using measure::Reading;

// Of the reading against the two places where the scene is read: the nearer one counts, and both must lie on one side.
struct Nearer {
  bool told = false;
  double reading = 0;
  double spread = 0;
  std::string why;
};
Nearer difference(const Reading& own, const Reading& ring, const Reading& whole) {
  if (!own.told) return {false, 0, 0, own.why};
  if (!whole.told) return {false, 0, 0, "of the scene: " + whole.why};
  const double byWhole = own.value - whole.value, spread = std::hypot(own.spread, whole.spread);
  if (!ring.told) return {true, byWhole, spread, {}};
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

void take(const Case& c, const char* kind, const Nearer& n, const std::function<void(Verdict&)>& out) {
  Verdict v = c.begin(kind);
  v.told = n.told;
  v.why = n.why;
  const Kind& k = kindOf(kind);
  v.target = k.ratio ? 1 : 0;
  if (n.told) {
    v.reading = n.reading;
    v.spread = n.spread;
    v.excess = excessOf(k, n.reading, v.target, v.tolerance);
    if (v.out()) out(v);
  }
  c.add(std::move(v));
}

std::string aboveOrUnder(double by) {
  return figure(std::abs(by)) + (by > 0 ? " L* above" : " L* under");
}

// Where the picture goes on across the seam, both sides tell what was done to the one.
struct Across {
  bool acts = false;
  Nearer black, white, mid, saturation, cast;
  std::array<double, 3> tint{};
};
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
      const double l = tone.told ? tone.value : fallback, share = change.spread / std::max(1e-6, std::abs(change.amount)),
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

// Where a subject's tones end: as read, or as the seam says.
double endOf(const Reading& own, const Reading& scene, double by) {
  return std::clamp(own.told ? own.value : (scene.told ? scene.value + by : 50 + by), 0.0, 100.0);
}

// How much places of the scene as large as the subject differ among themselves: the value at a share of them.
struct Variety {
  std::vector<float> mids, chromas;
};
Variety varietyOf(const Pair& p) {
  Variety v;
  std::size_t covered = 0;
  for (const std::uint8_t s : p.inside.samples()) covered += s != 0;
  const int side = std::max(24, int(std::sqrt(double(covered)) / 1.5));
  for (int y = 0; y + side <= p.scene.height(); y += side / 2) {
    for (int x = 0; x + side <= p.scene.width(); x += side / 2) {
      image::Raster<std::uint8_t> here(p.scene.width(), p.scene.height(), 1, std::uint8_t(0));
      int n = 0;
      std::vector<float> l, chroma;
      for (int j = y; j < y + side; j += 3) {
        for (int i = x; i < x + side; i += 3) {
          if (*p.whole.at(i, j) == 0) continue;
          const float* q = p.scene.at(i, j);
          const image::Lab lab = image::labFromEncoded({double(q[0]), double(q[1]), double(q[2])});
          l.push_back(float(lab.l));
          chroma.push_back(float(std::hypot(lab.a, lab.b)));
          ++n;
        }
      }
      if (n * 9 < side * side / 2) continue;
      v.mids.push_back(measure::quantile(std::move(l), 0.5));
      v.chromas.push_back(measure::quantile(std::move(chroma), 0.5));
    }
  }
  return v;
}

// What tones and colours are judged from.
struct Read {
  const Pair& p;
  Population own, ring, whole;
  measure::Tones t, tr, tw;  // of the three
  Across across;
  Variety variety;
};
// Every second px of every second row says as much of a large picture.
constexpr std::size_t kManyPixels = 700'000;
Read readOf(const Pair& p, bool marked) {
  const int step = p.own.pixels() > kManyPixels ? 2 : 1;
  Read r{p,
         measure::populationOf({p.own, p.inside}, step),
         measure::populationOf({p.scene, p.ring}, step),
         measure::populationOf({p.scene, p.whole}, step),
         {},
         {},
         {},
         {},
         varietyOf(p)};
  r.t = measure::tonesOf(r.own);
  r.tr = measure::tonesOf(r.ring);
  r.tw = measure::tonesOf(r.whole);
  // Where the user says what to compare with, the seam does not say it, and other places count for nothing.
  if (marked) {
    r.variety = {};
    return r;
  }
  const measure::SeamPairs pairs = measure::pairsAcross(p.own, p.scene, measure::outlineOf(p.own));
  const measure::AcrossSeam across = measure::acrossSeam(pairs);
  if (across.goesOn) r.across = acrossOf(across.changes, r.tw);
  return r;
}

// One end of the tones: how it is called, read and mended.
struct End {
  const char *kind, *words, *darken, *lighten, *darkenId, *lightenId;
  Reading measure::Tones::*tone;
  Nearer Across::*across;
  scene::Adjustment (*mend)(double fromL, double toL);
};
constexpr End kEnds[] = {{"black_point", "The darkest tones of ", "Deepen its darks by ", "Lift its darks by ", "deepen_darks",
                          "lift_darks", &measure::Tones::black, &Across::black, darksTo},
                         {"white_point", "The lightest tones of ", "Lower its lights by ", "Raise its lights by ", "lower_lights",
                          "raise_lights", &measure::Tones::white, &Across::white, lightsTo}};

void judgeEnds(const Case& c, const Read& r) {
  for (const End& end : kEnds) {
    const Reading &own = r.t.*end.tone, &scene = r.tw.*end.tone;
    const Nearer whole = difference(own, r.tr.*end.tone, scene);
    take(c, end.kind, r.across.acts ? r.across.*end.across : whole, [&](Verdict& v) {
      // Across a seam the reading is of the scene's own end.
      const bool across = r.across.acts && scene.told;
      const double from = across ? std::clamp(scene.value + v.reading, 0.0, 100.0) : endOf(own, scene, v.reading),
                   to = across ? scene.value : from - v.reading;
      const bool above = v.reading > 0;
      const std::string place = c.specimen.marked ? "what was marked for it" : "the scene around it";
      v.reason = end.words + c.layer.name + " lie at L* " + figure(from) + ", " + aboveOrUnder(v.reading) + " those of " + place +
                 " (" + figure(to) + ").";
      v.remedies.push_back(confined(above ? end.darkenId : end.lightenId,
                                    (above ? end.darken : end.lighten) + figure(std::abs(v.reading)) + " L*", c.layer.id,
                                    end.mend(from, to)));
    });
  }
}

void judgeMiddle(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  Nearer mid = difference(r.t.mid, r.tr.mid, r.tw.mid);
  if (mid.told && r.variety.mids.size() >= 4) {
    // A subject may be as light as any place of the scene is.
    const double low = double(measure::quantile(r.variety.mids, 0.05)), high = double(measure::quantile(r.variety.mids, 0.95)),
                 beyond = r.t.mid.value > high ? r.t.mid.value - high : (r.t.mid.value < low ? r.t.mid.value - low : 0.0);
    if (std::abs(beyond) < std::abs(mid.reading)) mid.reading = beyond;
  }
  take(c, "mid_tone", r.across.acts ? r.across.mid : mid, [&](Verdict& v) {
    v.reason = "As a whole " + name + " is " + aboveOrUnder(v.reading) +
               (c.specimen.marked ? " what was marked for it."
                : r.across.acts   ? " what goes on beside its edge."
                                  : " any place of the scene that is as large.");
    v.remedies.push_back(confined(
        "shift_middle",
        std::string(v.reading > 0 ? "Darken" : "Lighten") + " its middle tones by " + figure(std::abs(v.reading)) + " L*",
        c.layer.id, middleTo(r.t.mid.value, r.t.mid.value - v.reading)));
  });
}

void judgeSaturation(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  Nearer colour = ratio(measure::saturationOf(r.own), measure::saturationOf(r.ring), measure::saturationOf(r.whole));
  if (colour.told && r.variety.chromas.size() >= 4) {
    const double chroma = std::max(1e-3, measure::saturationOf(r.own).value),
                 low = std::max(0.5, double(measure::quantile(r.variety.chromas, 0.05))),
                 high = std::max(0.5, double(measure::quantile(r.variety.chromas, 0.95)));
    const double beyond = chroma > high ? chroma / high : (chroma < low ? chroma / low : 1.0);
    if (std::abs(std::log(beyond)) < std::abs(std::log(colour.reading))) colour.reading = beyond;
  }
  if (r.across.acts) colour = r.across.saturation;
  take(c, "saturation", colour, [&](Verdict& v) {
    v.reason = name + " is " + figure(v.reading, 2) + " times as colourful as the scene it stands in.";
    v.remedies.push_back(
        confined("saturation",
                 (v.reading > 1 ? "Take its colours back to " : "Strengthen its colours to ") + figure(100 / v.reading, 0) + " %",
                 c.layer.id, scene::Saturation{std::clamp(1 / v.reading - 1, -1.0, 2.0)}));
  });
}

void judgeCast(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  const measure::Cast mine = measure::illuminantOf({r.p.own, r.p.inside});
  // A cast is told where the light's colour and the tones agree on its direction.
  const auto against = [&](const image::Raster<std::uint8_t>& where, const Population& there) -> std::array<double, 3> {
    const measure::Cast theirs = measure::illuminantOf({r.p.scene, where}), tones = measure::castAtTones(r.own, there);
    if (!mine.told || !theirs.told || !tones.told) return {0, 0, -1};
    const double ia = mine.a - theirs.a, ib = mine.b - theirs.b, i = std::hypot(ia, ib), s = std::hypot(tones.a, tones.b);
    if (i < 1e-6 || s < 1e-6) return {0, 0, 0};
    const double agree = (ia * tones.a + ib * tones.b) / (i * s);
    if (agree < 0.6) return {0, 0, 0};
    const double size = std::min(i, s);
    return {size * (ia / i + tones.a / s) / 2, size * (ib / i + tones.b / s) / 2, size};
  };
  const auto byRing = against(r.p.ring, r.ring), byWhole = against(r.p.whole, r.whole);
  Nearer cast;
  std::array<double, 3> tint = byWhole;
  if (byWhole[2] < 0) {
    cast.why = "too few pixels of like tones";
  } else {
    if (byRing[2] >= 0 && byRing[2] < byWhole[2]) tint = byRing;
    cast = {true, tint[2], 1, {}};
  }
  if (r.across.acts) cast = r.across.cast, tint = r.across.tint;
  take(c, "cast", cast, [&](Verdict& v) {
    const auto words = [](double a, double b) {
      const std::string along = std::abs(a) > std::abs(b) / 2 ? (a > 0 ? "red" : "green") : "",
                        up = std::abs(b) > std::abs(a) / 2 ? (b > 0 ? "yellow" : "blue") : "";
      return along.empty() ? up : (up.empty() ? along : along + " and " + up);
    };
    v.reason = "The light on " + name + " is " + figure(v.reading) + " towards " + words(tint[0], tint[1]) +
               " of the light in the scene (a* " + figure(tint[0]) + ", b* " + figure(tint[1]) + ").";
    v.remedies.push_back(confined("balance", "Balance it by a* " + figure(-tint[0]) + ", b* " + figure(-tint[1]), c.layer.id,
                                  withoutTint(tint[0], tint[1])));
  });
}

}  // namespace

void judgeTones(const Case& c) {
  const Read r = readOf(c.specimen.tones, c.specimen.marked);
  judgeEnds(c, r);
  judgeMiddle(c, r);
  judgeSaturation(c, r);
  judgeCast(c, r);
}

}  // namespace hseam::findings
