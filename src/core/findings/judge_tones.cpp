#include <algorithm>
#include <cmath>

#include "core/findings/remedies.h"
#include "core/findings/tone_readings.h"
#include "core/image/lab.h"

namespace hseam::findings {
namespace {

using measure::Reading;

// Where a subject's tones end: as read, or as the seam says.
double endOf(const Reading& own, const Reading& scene, double by) {
  return std::clamp(own.available ? own.value : (scene.available ? scene.value + by : 50 + by), 0.0, 100.0);
}

// One end of the tones: how it is called, read and mended.
struct End {
  KindId kind;
  Says words, darken, lighten, darkenScene, lightenScene;
  RemedyId darkenId, lightenId;
  bool holdsInLightScene;  // above the scene's it is no fault where the scene is light
  Reading measure::Tones::*tone;
  Nearer Across::*across;
  scene::Adjustment (*mend)(double fromL, double toL);
};
constexpr End kEnds[] = {{KindId::blackPoint, Says::darkestTones, Says::deepenShadows, Says::liftShadows,
                          Says::deepenSceneShadows, Says::liftSceneShadows, RemedyId::deepenShadows, RemedyId::liftShadows, false,
                          &measure::Tones::black, &Across::black, shadowsTo},
                         {KindId::whitePoint, Says::lightestTones, Says::lowerHighlights, Says::raiseHighlights,
                          Says::lowerSceneHighlights, Says::raiseSceneHighlights, RemedyId::lowerHighlights,
                          RemedyId::raiseHighlights, true, &measure::Tones::white, &Across::white, highlightsTo}};

// What a foreign subject may have of its own at an end of its tones: some L* in any case, and white in a scene that is light but
// happens to hold none.
Nearer ofItsOwn(Nearer n, const Reading& scene, const End& end) {
  constexpr double kOwn = 2, kInHaze = 4, kLightScene = 82;
  n.allowance = scene.spread >= kHazy ? kInHaze : kOwn;
  if (end.holdsInLightScene && n.reading > 0 && scene.value > kLightScene) n.allowance = n.reading;
  return n;
}

double stopsOf(double light) {
  return std::log2(std::max(1e-4, light));
}
double lightOfL(double l) {
  const double f = (l + 16) / 116;
  return l > 8 ? f * f * f : l / 903.3;
}
double lOfLight(double y) {
  return y > 0.008856 ? 116 * std::cbrt(y) - 16 : 903.3 * y;
}

// In a scene that is dark, dark too where the subject stands: how far the subject is lighter than things are in that light, L*; 0
// where it is not. How much of the floor's darkness is its light and how much its paint nobody knows; floors are a fifth as light
// as white within a stop or so, and the light of a scene at dusk or in a hall is lower by more than that. So six tenths of what
// the floor lies under a usual one's is taken for light (the share of the variances). What the subject is made of is not known
// either: it is taken for as light as things are.
double lighterThanTheDark(const ToneReadings& r) {
  constexpr double kDarkScene = -3.1, kDarkFloor = -3.7, kUsualFloor = -3, kUsualThing = -3.1;  // stops under white
  constexpr double kLight = 0.6;
  const Pair& p = r.p;
  int top = p.inside.height(), bottom = -1;
  for (int y = 0; y < p.inside.height(); ++y) {
    const std::uint8_t* row = p.inside.row(y);
    if (std::any_of(row, row + p.inside.width(), [](std::uint8_t v) { return v != 0; })) top = std::min(top, y), bottom = y;
  }
  if (bottom < 0) return 0;
  struct Mean {
    double sum = 0;
    std::size_t n = 0;
    void add(const float* c) {
      sum += lightOfL(image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])}).l);
      ++n;
    }
    double stops() const { return stopsOf(sum / double(std::max<std::size_t>(1, n))); }
  };
  Mean subject, scene, floor;
  const int from = bottom - (bottom - top) / 4, to = bottom + (bottom - top) / 10;
  for (int y = 0; y < p.scene.height(); y += 2) {
    for (int x = 0; x < p.scene.width(); x += 2) {
      if (*p.inside.at(x, y)) subject.add(p.own.at(x, y));
      if (!*p.whole.at(x, y)) continue;
      scene.add(p.scene.at(x, y));
      if (y >= from && y <= to) floor.add(p.scene.at(x, y));
    }
  }
  constexpr std::size_t kFew = 400;
  if (subject.n < kFew || floor.n < kFew) return 0;
  if (scene.stops() > kDarkScene || floor.stops() > kDarkFloor) return 0;
  const double lighter = subject.stops() - (kUsualThing - kLight * (kUsualFloor - floor.stops()));
  return lighter > 0 ? r.t.mid.value - lOfLight(lightOfL(r.t.mid.value) * std::exp2(-lighter)) : 0;
}

}  // namespace

void judgeEnds(const Case& c, const ToneReadings& r) {
  for (const End& end : kEnds) {
    const Reading &own = r.t.*end.tone, &scene = r.tw.*end.tone;
    const Nearer whole =
        r.marked ? difference(own, r.tr.*end.tone, scene) : ofItsOwn(difference(own, r.tr.*end.tone, scene), scene, end);
    take(c, end.kind, r.across.acts ? r.across.*end.across : whole, [&](Verdict& v, double beyond) {
      // Across a seam the reading is of the scene's own end.
      const bool across = r.across.acts && scene.available;
      const double from = across ? std::clamp(scene.value + v.reading, 0.0, 100.0) : endOf(own, scene, v.reading),
                   to = across ? scene.value : from - v.reading;
      const bool above = v.reading > 0;
      const Says place = c.specimen.marked ? Says::whatWasMarked : Says::theSceneAround;
      v.sentence = {end.words, c.layer.name, from, aboveOrUnder(v.reading), place, to};
      v.remedies.push_back(confined(above ? end.darkenId : end.lightenId, {above ? end.darken : end.lighten, std::abs(beyond)},
                                    c.layer.id, end.mend(from, from - beyond)));
      v.sceneRemedies.push_back(ofTheScene(RemedyId::sceneEnds, {above ? end.lightenScene : end.darkenScene, std::abs(beyond)},
                                           c.layer.id, end.mend(to, to + beyond)));
    });
  }
}

void judgeMiddle(const Case& c, const ToneReadings& r) {
  const std::string& name = c.layer.name;
  Nearer mid = difference(r.t.mid, r.tr.mid, r.tw.mid);
  if (mid.available && r.variety.mids.size() >= kFewPlaces) {
    // A subject may be as light as any place of the scene is, and somewhat beyond: what it is made of counts for more than its
    // light.
    constexpr double kOfItsOwn = 22;
    const double low = double(measure::quantile(r.variety.mids, 0.05)), high = double(measure::quantile(r.variety.mids, 0.95)),
                 off = std::max(0.0, r.t.mid.value - high) + std::min(0.0, r.t.mid.value - low);
    if (std::max(0.0, std::abs(off) - kOfItsOwn) < std::abs(mid.reading)) mid.reading = off, mid.allowance = kOfItsOwn;
  } else if (mid.available && !r.marked) {
    mid.available = false;
    mid.reason = Says::tooFewPlaces;
  }
  bool dark = false;
  if (r.t.mid.available && !r.marked && !r.across.acts) {
    const double lighter = lighterThanTheDark(r);
    dark = lighter > 0 && (!mid.available || lighter > mid.beyond(false));
    if (dark) mid = {true, lighter, r.t.mid.spread, {}};
  }
  take(c, KindId::midTone, r.across.acts ? r.across.mid : mid, [&](Verdict& v, double beyond) {
    const Says off = c.specimen.marked ? Says::middleOffMarked : r.across.acts ? Says::middleOffBeside : Says::middleOffAnywhere;
    v.sentence = dark ? Words(Says::tooLightForTheDark, name, v.reading) : Words(off, name, aboveOrUnder(v.reading));
    const bool above = v.reading > 0;
    v.remedies.push_back(confined(RemedyId::shiftMiddle, {above ? Says::darkenMiddle : Says::lightenMiddle, std::abs(beyond)},
                                  c.layer.id, middleTo(r.t.mid.value, r.t.mid.value - beyond)));
    v.sceneRemedies.push_back(ofTheScene(RemedyId::sceneMiddle,
                                         {above ? Says::lightenSceneMiddle : Says::darkenSceneMiddle, std::abs(beyond)},
                                         c.layer.id, middleTo(r.tw.mid.value, r.tw.mid.value + beyond)));
  });
}

void judgeTones(const Case& c) {
  const ToneReadings r = toneReadingsOf(c.specimen.tones, c.specimen.marked);
  judgeEnds(c, r);
  judgeMiddle(c, r);
  judgeSaturation(c, r);
  judgeCast(c, r);
}

}  // namespace hseam::findings
