#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/remedies.h"
#include "core/findings/skin.h"
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
  double held =
      0;  // of the reading, what a subject may have of its own: as large as that it is no fault; a factor where it is a ratio

  // What is beyond that.
  double beyond(bool ratio) const {
    if (!ratio) return std::copysign(std::max(0.0, std::abs(reading) - held), reading);
    const double factor = std::max(1.0, held);
    return reading > 1 ? std::max(1.0, reading / factor) : std::min(1.0, reading * factor);
  }
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

// out: the sentence and the remedies; beyond: what they mend, Nearer::beyond.
void take(const Case& c, const char* kind, const Nearer& n, const std::function<void(Verdict&, double beyond)>& out) {
  Verdict v = c.begin(kind);
  v.told = n.told;
  v.why = n.why;
  const Kind& k = kindOf(kind);
  v.target = k.ratio ? 1 : 0;
  if (n.told) {
    v.reading = n.reading;
    v.spread = n.spread;
    v.excess = excessOf(k, n.beyond(k.ratio), v.target, v.tolerance);
    if (v.out()) out(v, n.beyond(k.ratio));
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

// How much places of the scene as large as the subject differ among themselves.
constexpr std::size_t kFewPlaces = 5;
constexpr const char* kTooFewPlaces = "there are too few places of its size in the scene to compare it with";
struct Variety {
  std::vector<float> mids;
  double hue = 0;  // root of the mean square by which their mean a* b* lies off that of all of them
};
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

// What tones and colours are judged from.
struct Read {
  const Pair& p;
  Population own, ring, whole;
  Population colours;        // of the subject, without skin: what a cast and saturation are told from
  measure::Tones t, tr, tw;  // of the three
  Across across;
  Variety variety;
  bool marked = false;
};
// Every second px of every second row says as much of a large picture.
constexpr std::size_t kManyPixels = 700'000, kWholeScene = 4'000;
constexpr double kHazy = 1.5;  // L*: spread of an end without a mass of pixels
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
         {},
         varietyOf(p),
         marked};
  r.t = measure::tonesOf(r.own);
  r.tr = measure::tonesOf(r.ring);
  r.tw = measure::tonesOf(r.whole);
  // Of a whole scene the tones end somewhere, be it in haze.
  if (!r.tw.black.told && r.whole.size() > kWholeScene)
    r.tw.black = {true, double(measure::quantile(r.whole.l, 0.005)), kHazy, {}};
  if (!r.tw.white.told && r.whole.size() > kWholeScene)
    r.tw.white = {true, double(measure::quantile(r.whole.l, 0.995)), kHazy, {}};
  // Where the user says what to compare with, the seam does not say it, and other places count for nothing.
  if (marked) {
    r.variety = {};
    r.colours = r.own;
    return r;
  }
  const measure::SeamPairs pairs = measure::pairsAcross(p.own, p.scene, measure::outlineOf(p.own));
  const measure::AcrossSeam across = measure::acrossSeam(pairs);
  if (across.goesOn) {
    r.across = acrossOf(across.changes, r.tw);
    r.colours = r.own;
  } else {
    r.colours = measure::populationOf({p.own, withoutSkin(p)}, step);
  }
  return r;
}

// One end of the tones: how it is called, read and mended.
struct End {
  const char *kind, *words, *darken, *lighten, *darkenId, *lightenId;
  const char *darkenScene, *lightenScene;
  bool holdsInLightScene;  // above the scene's it is no fault where the scene is light
  Reading measure::Tones::*tone;
  Nearer Across::*across;
  scene::Adjustment (*mend)(double fromL, double toL);
};
constexpr End kEnds[] = {
    {"black_point", "The darkest tones of ", "Deepen its darks by ", "Lift its darks by ", "deepen_darks", "lift_darks",
     "Deepen the scene's darks by ", "Lift the scene's darks by ", false, &measure::Tones::black, &Across::black, darksTo},
    {"white_point", "The lightest tones of ", "Lower its lights by ", "Raise its lights by ", "lower_lights", "raise_lights",
     "Lower the scene's lights by ", "Raise the scene's lights by ", true, &measure::Tones::white, &Across::white, lightsTo}};

// What a foreign subject may have of its own at an end of its tones: some L* in any case, and white in a scene that is light but
// happens to hold none.
Nearer ofItsOwn(Nearer n, const Reading& scene, const End& end) {
  constexpr double kOwn = 2, kInHaze = 4, kLightScene = 82;
  n.held = scene.spread >= kHazy ? kInHaze : kOwn;
  if (end.holdsInLightScene && n.reading > 0 && scene.value > kLightScene) n.held = n.reading;
  return n;
}

void judgeEnds(const Case& c, const Read& r) {
  for (const End& end : kEnds) {
    const Reading &own = r.t.*end.tone, &scene = r.tw.*end.tone;
    const Nearer whole =
        r.marked ? difference(own, r.tr.*end.tone, scene) : ofItsOwn(difference(own, r.tr.*end.tone, scene), scene, end);
    take(c, end.kind, r.across.acts ? r.across.*end.across : whole, [&](Verdict& v, double beyond) {
      // Across a seam the reading is of the scene's own end.
      const bool across = r.across.acts && scene.told;
      const double from = across ? std::clamp(scene.value + v.reading, 0.0, 100.0) : endOf(own, scene, v.reading),
                   to = across ? scene.value : from - v.reading;
      const bool above = v.reading > 0;
      const std::string place = c.specimen.marked ? "what was marked for it" : "the scene around it";
      v.reason = end.words + c.layer.name + " lie at L* " + figure(from) + ", " + aboveOrUnder(v.reading) + " those of " + place +
                 " (" + figure(to) + ").";
      v.remedies.push_back(confined(above ? end.darkenId : end.lightenId,
                                    (above ? end.darken : end.lighten) + figure(std::abs(beyond)) + " L*", c.layer.id,
                                    end.mend(from, from - beyond)));
      v.sceneRemedies.push_back(ofTheScene("scene_ends",
                                           (above ? end.lightenScene : end.darkenScene) + figure(std::abs(beyond)) + " L*",
                                           c.layer.id, end.mend(to, to + beyond)));
    });
  }
}

void judgeMiddle(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  Nearer mid = difference(r.t.mid, r.tr.mid, r.tw.mid);
  if (mid.told && r.variety.mids.size() >= kFewPlaces) {
    // A subject may be as light as any place of the scene is, and somewhat beyond: what it is made of counts for more than its
    // light.
    constexpr double kOfItsOwn = 22;
    const double low = double(measure::quantile(r.variety.mids, 0.05)), high = double(measure::quantile(r.variety.mids, 0.95)),
                 off = std::max(0.0, r.t.mid.value - high) + std::min(0.0, r.t.mid.value - low);
    if (std::max(0.0, std::abs(off) - kOfItsOwn) < std::abs(mid.reading)) mid.reading = off, mid.held = kOfItsOwn;
  } else if (mid.told && !r.marked) {
    mid.told = false;
    mid.why = kTooFewPlaces;
  }
  take(c, "mid_tone", r.across.acts ? r.across.mid : mid, [&](Verdict& v, double beyond) {
    v.reason = "As a whole " + name + " is " + aboveOrUnder(v.reading) +
               (c.specimen.marked ? " what was marked for it."
                : r.across.acts   ? " what goes on beside its edge."
                                  : " any place of the scene that is as large.");
    v.remedies.push_back(
        confined("shift_middle",
                 std::string(v.reading > 0 ? "Darken" : "Lighten") + " its middle tones by " + figure(std::abs(beyond)) + " L*",
                 c.layer.id, middleTo(r.t.mid.value, r.t.mid.value - beyond)));
    v.sceneRemedies.push_back(ofTheScene(
        "scene_middle",
        std::string(v.reading > 0 ? "Lighten" : "Darken") + " the scene's middle tones by " + figure(std::abs(beyond)) + " L*",
        c.layer.id, middleTo(r.tw.mid.value, r.tw.mid.value + beyond)));
  });
}

// Deviation of a* b* of a scene below which it is one colour: a wall, a backdrop.
constexpr double kFewColours = 6;
constexpr double kOfItself = 1.25;  // times: what things differ in by what they are
constexpr double kGreyish = 4;      // likewise, with their mean's distance from grey

void judgeSaturation(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  const measure::Colourfulness mine = measure::colourfulnessOf(r.colours), theirs = measure::colourfulnessOf(r.whole);
  Nearer colour = ratio(mine.whole, theirs.whole, theirs.whole);
  if (colour.told && !r.marked && theirs.varied < kFewColours) {
    colour.told = false;
    colour.why = "the scene has too few colours to say how colourful things are in it";
  } else if (colour.told && !r.marked && r.variety.mids.size() < kFewPlaces) {
    colour.told = false;
    colour.why = kTooFewPlaces;
  }
  if (colour.told && !r.marked && std::min(mine.whole.value, theirs.whole.value) < kGreyish) {
    colour.told = false;
    colour.why = "it is nearly grey";
  }
  if (!r.marked) colour.held = kOfItself;
  if (r.across.acts) colour = r.across.saturation;
  take(c, "saturation", colour, [&](Verdict& v, double beyond) {
    v.reason = name + " is " + figure(v.reading, 2) + " times as colourful as the scene it stands in.";
    v.remedies.push_back(
        confined("saturation",
                 (v.reading > 1 ? "Take its colours back to " : "Strengthen its colours to ") + figure(100 / beyond, 0) + " %",
                 c.layer.id, scene::Saturation{std::clamp(1 / beyond - 1, -1.0, 2.0)}));
    v.sceneRemedies.push_back(
        ofTheScene("scene_saturation",
                   (v.reading > 1 ? "Strengthen the scene's colours to " : "Take the scene's colours back to ") +
                       figure(100 * beyond, 0) + " %",
                   c.layer.id, scene::Saturation{std::clamp(beyond - 1, -1.0, 2.0)}));
  });
}

// A cast is told where near-neutral colours at equal tones and colours as a whole agree on its direction; as large as the smaller
// of both. A third of what places of the scene differ among themselves may be the subject's own. What edges say of the light is
// not asked: of a subject they are those of its own colours. a*, b*, size.
std::array<double, 3> agreedCast(const measure::Cast& tones, const measure::Cast& means) {
  constexpr double kAgree = 0.6;
  const double t = std::hypot(tones.a, tones.b), m = std::hypot(means.a, means.b);
  if (t < 1e-6 || m < 1e-6) return {0, 0, 0};
  if ((tones.a * means.a + tones.b * means.b) / (t * m) < kAgree) return {0, 0, 0};
  const double size = std::min(t, m), a = (tones.a / t + means.a / m) / 2, b = (tones.b / t + means.b / m) / 2;
  return {size * a, size * b, size};
}

void judgeCast(const Case& c, const Read& r) {
  const std::string& name = c.layer.name;
  const measure::Cast tones = measure::castAtTones(r.colours, r.whole), means = measure::castOfMeans(r.colours, r.whole);
  Nearer cast;
  std::array<double, 3> tint{};
  if (!tones.told || !means.told) {
    cast.why = "too few pixels of like tones";
  } else if (!r.marked && r.variety.mids.size() < kFewPlaces) {
    cast.why = kTooFewPlaces;
  } else if (!r.marked && means.spread < kFewColours) {
    cast.why = "the scene has too few colours to tell its light from its things";
  } else {
    constexpr double kOfVariety = 0.3;
    tint = agreedCast(tones, means);
    cast = {true, tint[2], 1, {}, r.marked ? 0 : kOfVariety * r.variety.hue};
  }
  if (r.across.acts) cast = r.across.cast, tint = r.across.tint;
  take(c, "cast", cast, [&](Verdict& v, double beyond) {
    const auto words = [](double a, double b) {
      const std::string along = std::abs(a) > std::abs(b) / 2 ? (a > 0 ? "red" : "green") : "",
                        up = std::abs(b) > std::abs(a) / 2 ? (b > 0 ? "yellow" : "blue") : "";
      return along.empty() ? up : (up.empty() ? along : along + " and " + up);
    };
    v.reason = "The light on " + name + " is " + figure(v.reading) + " towards " + words(tint[0], tint[1]) +
               " of the light in the scene (a* " + figure(tint[0]) + ", b* " + figure(tint[1]) + ").";
    const double share = beyond / std::max(1e-6, v.reading), a = share * tint[0], b = share * tint[1];
    v.remedies.push_back(
        confined("balance", "Balance it by a* " + figure(-a) + ", b* " + figure(-b), c.layer.id, withoutTint(a, b)));
    v.sceneRemedies.push_back(ofTheScene("scene_balance", "Balance the scene by a* " + figure(a) + ", b* " + figure(b),
                                         c.layer.id, withoutTint(-a, -b)));
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
