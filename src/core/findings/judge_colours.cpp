#include <algorithm>
#include <cmath>

#include "core/findings/remedies.h"
#include "core/findings/tone_readings.h"

namespace hseam::findings {
namespace {

// Deviation of a* b* of a scene below which it is one colour: a wall, a backdrop.
constexpr double kFewColours = 6;
constexpr double kOfItself = 1.25;  // times: what things differ in by what they are
constexpr double kGreyish = 4;      // likewise, with their mean's distance from grey

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

// Of a cast between things that share nothing, what light is likely to have made. Daylight and flames lie along one line from
// blue to yellow (CIE daylight locus, Planckian locus), dusk and its sky to the red of it; hardly any light lies to the green:
// what does is the colour of grass and paint. a*, b*, size.
std::array<double, 3> asLightIs(const std::array<double, 3>& tint) {
  constexpr double kAlongA = 0.22, kAlongB = 0.975, kGreenish = 0.2;
  const double along = tint[0] * kAlongA + tint[1] * kAlongB, across = tint[0] * kAlongB - tint[1] * kAlongA,
               likely = across > 0 ? across : across * kGreenish, a = along * kAlongA + likely * kAlongB,
               b = along * kAlongB - likely * kAlongA;
  return {a, b, std::hypot(a, b)};
}

// "red and yellow"
Words hueOf(double a, double b) {
  const bool along = std::abs(a) > std::abs(b) / 2, up = std::abs(b) > std::abs(a) / 2;
  const Says first = a > 0 ? Says::red : Says::green, second = b > 0 ? Says::yellow : Says::blue;
  if (along && up) return {Says::bothColours, first, second};
  return along ? first : second;
}

}  // namespace

void judgeSaturation(const Case& c, const ToneReadings& r) {
  const std::string& name = c.layer.name;
  const measure::Colourfulness mine = measure::colourfulnessOf(r.colours), theirs = measure::colourfulnessOf(r.whole);
  Nearer colour = ratio(mine.whole, theirs.whole, theirs.whole);
  if (colour.available && !r.marked && theirs.varied < kFewColours) {
    colour.available = false;
    colour.reason = Says::tooFewColours;
  } else if (colour.available && !r.marked && r.variety.mids.size() < kFewPlaces) {
    colour.available = false;
    colour.reason = Says::tooFewPlaces;
  }
  if (colour.available && !r.marked && std::min(mine.whole.value, theirs.whole.value) < kGreyish) {
    colour.available = false;
    colour.reason = Says::nearlyGrey;
  }
  if (!r.marked) colour.allowance = kOfItself;
  if (r.across.acts) colour = r.across.saturation;
  take(c, KindId::saturation, colour, [&](Verdict& v, double beyond) {
    v.sentence = {Says::colourfulness, name, Figure{v.reading, 2}};
    const bool above = v.reading > 1;
    v.remedies.push_back(confined(RemedyId::saturation,
                                  {above ? Says::takeColoursBack : Says::strengthenColours, Figure{100 / beyond, 0}}, c.layer.id,
                                  scene::Saturation{std::clamp(1 / beyond - 1, -1.0, 2.0)}));
    v.sceneRemedies.push_back(ofTheScene(
        RemedyId::sceneSaturation, {above ? Says::strengthenSceneColours : Says::takeSceneColoursBack, Figure{100 * beyond, 0}},
        c.layer.id, scene::Saturation{std::clamp(beyond - 1, -1.0, 2.0)}));
  });
}

void judgeCast(const Case& c, const ToneReadings& r) {
  const std::string& name = c.layer.name;
  const measure::Cast tones = measure::castAtTones(r.colours, r.whole), means = measure::castOfMeans(r.colours, r.whole);
  Nearer cast;
  std::array<double, 3> tint{};
  if (!tones.available || !means.available) {
    cast.reason = Says::tooFewLikeTones;
  } else if (!r.marked && r.variety.mids.size() < kFewPlaces) {
    cast.reason = Says::tooFewPlaces;
  } else if (!r.marked && means.spread < kFewColours) {
    cast.reason = Says::lightOrThings;
  } else {
    constexpr double kOfVariety = 0.3;
    tint = agreedCast(tones, means);
    // What the subject has to be moved by is the other way: it is the scene's light that is likely or not.
    if (!r.marked) {
      const auto light = asLightIs({-tint[0], -tint[1], tint[2]});
      tint = {-light[0], -light[1], light[2]};
    }
    cast = {true, tint[2], 1, {}, r.marked ? 0 : kOfVariety * r.variety.hue};
  }
  if (r.across.acts) cast = r.across.cast, tint = r.across.tint;
  take(c, KindId::cast, cast, [&](Verdict& v, double beyond) {
    v.sentence = {Says::castOfLight, name, v.reading, hueOf(tint[0], tint[1]), tint[0], tint[1]};
    const double share = beyond / std::max(1e-6, v.reading), a = share * tint[0], b = share * tint[1];
    v.remedies.push_back(confined(RemedyId::balance, {Says::balanceIt, -a, -b}, c.layer.id, withoutTint(a, b)));
    v.sceneRemedies.push_back(ofTheScene(RemedyId::sceneBalance, {Says::balanceScene, a, b}, c.layer.id, withoutTint(-a, -b)));
  });
}

}  // namespace hseam::findings
