#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/remedies.h"
#include "core/measure/grain.h"
#include "core/measure/seam_change.h"
#include "core/measure/seam_detail.h"
#include "core/measure/sharpness.h"
#include "core/scene/adjustment_kinds.h"

namespace hseam::findings {
namespace {

using measure::Grain;
using measure::Reading;

// Two-part: by how many times the widths differ, and by how many px; the part that is nearer counts.
constexpr double kLeastPx = 0.7;
constexpr double kTurnedBackPx = 0.9;  // blurs from here on are turned back; less is a matter of sharpening

double excessOfWidths(double own, double scene, double tolerance) {
  const double times = std::abs(std::log(own / scene)) / std::log(tolerance), px = std::abs(own - scene) / kLeastPx;
  return std::min(times, px);
}

// Where surfaces go on: the scene's grain and what the inside has more, against the scene's.
Reading grainAcross(const Case& c) {
  constexpr double kSure = 2.4;
  constexpr double kLeast = 0.5 / 255;  // a picture without any grain has that of its 8 bits
  const Pair& p = c.specimen.fine;
  const measure::SeamSquares squares = measure::squaresAcross(p.own, p.scene, c.fine.outline);
  const Reading noise = measure::noiseAcross(squares), level = measure::grainLevel(c.fine.sceneGrain);
  if (!noise.available) return measure::unavailable(noise.reason);
  // Texture only adds to grain: it is no more than what the calmest squares have.
  const double calmest = measure::mostNoise(squares.outside),
               base = std::max(kLeast, level.available ? std::min(level.value, calmest) : kLeast),
               more = std::abs(noise.value) < kSure * noise.spread ? 0 : noise.value;
  const double ratio = std::sqrt(std::max(0.04, 1 + more / (base * base)));
  return measure::available(ratio, noise.spread / (2 * base * base * ratio));
}

// Of a foreign subject without flat places of the scene's tones: what both have at the least. More of it counts where texture
// does not reach down to it.
Reading grainByFloors(const Case& c) {
  constexpr double kReachesDown = 0.6, kLeast = 0.35 / 255;
  const Pair& p = c.specimen.fine;
  const Reading own = measure::grainFloor({p.own, p.inside}), scene = measure::grainFloor({p.scene, p.whole});
  if (!own.available || !scene.available) return own.available ? scene : own;
  const double ratio = std::max(own.value, kLeast) / std::max(scene.value, kLeast);
  if (ratio > 1 && own.spread > kReachesDown * own.value) return measure::unavailable("texture is in the way");
  return measure::available(ratio, ratio * std::min(0.5, own.spread / std::max(own.value, kLeast)));
}

// Two readings of one thing: the one nearer to like, and like where they contradict each other.
Reading agreed(const Reading& a, const Reading& b) {
  if (!a.available || !b.available) return a.available ? a : b;
  if ((a.value - 1) * (b.value - 1) < 0) return measure::available(1, std::max(a.spread, b.spread));
  return std::abs(std::log(a.value)) < std::abs(std::log(b.value)) ? a : b;
}

void judgeGrain(const Case& c) {
  const Pair& p = c.specimen.fine;
  const std::string& name = c.layer.name;
  const bool surfaceContinues = c.fine.surfaceContinues;
  const Grain &own = c.fine.ownGrain, &whole = c.fine.sceneGrain;
  const Reading byRing = surfaceContinues ? grainAcross(c) : measure::grainRatio(own, measure::grainOf({p.scene, p.ring})),
                byTones = measure::grainRatio(own, whole),
                byWhole = surfaceContinues ? byTones : agreed(byTones, grainByFloors(c));
  {
    Verdict v = c.begin(KindId::grain);
    v.target = 1;
    const Kind& k = kindOf(KindId::grain);
    if (surfaceContinues ? !byRing.available : !byWhole.available && !byRing.available) {
      v.reason = surfaceContinues ? byRing.reason : byWhole.reason;
    } else {
      const Reading &a = byRing.available ? byRing : byWhole, &b = byWhole.available && !surfaceContinues ? byWhole : byRing;
      const bool oneSide = (a.value - 1) * (b.value - 1) > 0;
      v.available = true;
      v.reading = !oneSide ? 1 : (std::abs(std::log(a.value)) < std::abs(std::log(b.value)) ? a.value : b.value);
      v.spread = std::min(a.spread, b.spread);
      // What lenses and compression do to smooth and to rough surfaces differs by this much in one and the same picture.
      constexpr double kSurfaces = 0.6;
      v.excess = excessOf(k, v.reading, 1, v.tolerance) * (surfaceContinues || c.specimen.marked ? 1 : kSurfaces);
      // No two pictures differ so much in grain: its surface is rough where the scene's is smooth, or the other way round.
      constexpr double kMost = 5;
      if (!surfaceContinues && (v.reading > kMost || v.reading < 1 / kMost)) {
        v.available = false;
        v.reason = Says::textureInTheWay;
      }
    }
    if (v.out()) {
      const double level = measure::grainLevel(own).value, wanted = level / v.reading;
      v.sentence = {Says::grainTimes, name, Figure{v.reading, 2}, Figure{255 * level, 2}, Figure{255 * wanted, 2}};
      if (v.reading < 1) {
        // What is missing, by tone.
        const auto missing = [&](int from, int to) {
          double sum = 0, n = 0;
          for (int i = from; i < to; ++i) {
            const auto at = std::size_t(i);
            if (whole.places[at] < 100) continue;
            const double mine = own.places[at] >= 100 ? own.sigma[at] : level;
            sum += std::sqrt(std::max(0.0, whole.sigma[at] * whole.sigma[at] - mine * mine)), n += 1;
          }
          return n > 0 ? sum / n : std::sqrt(std::max(0.0, wanted * wanted - level * level));
        };
        scene::ParametricAdjustment g = scene::parametric(scene::AdjustmentId::grain);
        g = with(g, "darks", missing(0, 3));
        g = with(g, "mids", missing(3, 6));
        g = with(g, "lights", missing(6, 8));
        g = with(g, "size", 1);
        v.remedies.push_back(confined(RemedyId::addGrain, Says::addGrain, c.layer.id, g));
        v.sceneRemedies.push_back(
            ofTheScene(RemedyId::calmScene, {Says::calmSceneGrain, Figure{100 * v.reading, 0}}, c.layer.id,
                       with(scene::parametric(scene::AdjustmentId::denoise), "lightness", std::min(0.3, 2.2 * wanted))));
      } else {
        v.remedies.push_back(
            confined(RemedyId::calmGrain, {Says::calmGrain, Figure{100 / v.reading, 0}}, c.layer.id,
                     with(scene::parametric(scene::AdjustmentId::denoise), "lightness", std::min(0.3, 2.2 * level))));
        scene::ParametricAdjustment g = scene::parametric(scene::AdjustmentId::grain);
        for (const char* tone : {"darks", "mids", "lights"}) g = with(g, tone, std::sqrt(level * level - wanted * wanted));
        v.sceneRemedies.push_back(ofTheScene(RemedyId::grainOnScene, Says::addGrainToScene, c.layer.id, with(g, "size", 1)));
      }
    }
    c.add(std::move(v));
  }
}

// Where surfaces go on: the scene's own blur and by how much the inside differs from it.
void sharpnessAcross(const Case& c, Reading& inside, Reading& outside) {
  constexpr double kUsual = 0.7;  // px: of a picture as cameras make it
  const Reading& scene = c.fine.sceneBlur;
  const Reading by = measure::blurAcross(c.specimen.fine.own, c.specimen.fine.scene, c.fine.outline);
  if (!by.available) {
    inside = outside = by;
    return;
  }
  const double base = std::clamp(scene.available ? scene.value : kUsual, 0.4, 4.0);
  const double softer = std::hypot(base, by.value);
  outside = measure::available(by.value >= 0 ? base : softer, scene.spread);
  inside = measure::available(by.value >= 0 ? softer : base, by.spread);
}

double widthOf(const Reading& blur) {
  return measure::kWidthOfSigma * std::max(0.25, blur.value);
}
// How many times as wide the subject's edges are, and how far that is beyond tolerance.
struct Wider {
  double times = 1, excess = 0;
  Says than = Says::thoseOfTheScene;
};
Wider byNeighbours(const Reading& inside, const Reading& outside, double tolerance) {
  const double a = widthOf(inside), b = widthOf(outside);
  return {a / b, excessOfWidths(a, b, tolerance)};
}
// A subject of another picture, against the floor at its foot, which is as far away; where the floor has few edges, softer than
// it and all of the scene is softer. A subject sharper than the distance behind it is how lenses see; it is too sharp where even
// the sharpest that the floor at its foot has is softer.
Wider byDepth(const Case& c, const Reading& own, double tolerance) {
  // Fine texture reads sharper than any edge is; no camera's picture is sharper than this.
  constexpr double kSharpest = 0.75;  // px
  constexpr int kManyPlaces = 100, kSomePlaces = 50;
  const double mine = widthOf(own);
  if (c.fine.floorSharpest.available && c.fine.floorPlaces >= kSomePlaces && mine < widthOf(c.fine.floorSharpest)) {
    // A floor may have no fine detail where the subject has it.
    constexpr double kDetail = 0.5;
    const double floor = widthOf(c.fine.floorSharpest), excess = kDetail * excessOfWidths(mine, floor, tolerance);
    if (excess > 1) return {mine / floor, excess, Says::thoseOfItsFloor};
  }
  Wider least{1, 0};
  bool first = true;
  for (const Reading* r : {&c.fine.sceneBlur, &c.fine.floorBlur}) {
    if (!r->available) continue;
    const double there = std::max(widthOf(*r), measure::kWidthOfSigma * kSharpest),
                 here = mine - measure::kWidthOfSigma * own.spread;
    const Wider w = here > there ? Wider{mine / there, excessOfWidths(here, there, tolerance)} : Wider{};
    const bool floor = r == &c.fine.floorBlur && c.fine.floorPlaces >= kManyPlaces;
    if (first || floor || w.excess < least.excess) least = w;
    if (floor && w.excess > 0) least.than = Says::thoseOfItsFloor;
    first = false;
  }
  return least;
}

void judgeSharpness(const Case& c) {
  const Pair& p = c.specimen.fine;
  const std::string& name = c.layer.name;
  const bool surfaceContinues = c.fine.surfaceContinues;
  // Beside a seam that goes on, or against what the user marked, both ways count; else the depth at which it stands.
  const bool byDepthAlone = !surfaceContinues && !c.specimen.marked;
  Reading mine = c.fine.ownBlur, there = c.fine.sceneBlur;
  if (surfaceContinues) sharpnessAcross(c, mine, there);
  {
    Verdict v = c.begin(KindId::sharpness);
    v.target = 1;
    if (!mine.available || (!there.available && !(byDepthAlone && c.fine.floorBlur.available))) {
      v.reason = mine.available ? Words(Says::ofTheScene, there.reason) : Words(mine.reason);
    } else {
      v.available = true;
      const auto [times, excess, than] = byDepthAlone ? byDepth(c, mine, v.tolerance) : byNeighbours(mine, there, v.tolerance);
      v.reading = times;
      v.excess = excess;
      v.spread = v.reading * mine.spread / std::max(0.25, mine.value);
      if (v.out()) {
        const double w = measure::kWidthOfSigma, own10 = w * std::max(0.25, mine.value);
        const double target = own10 / v.reading / w, sigma = std::max(0.25, mine.value);
        v.sentence = {Says::edgesWithin, name, own10, than, own10 / v.reading};
        if (v.reading < 1) {
          const double add = std::sqrt(std::max(0.01, target * target - sigma * sigma));
          v.remedies.push_back(confined(RemedyId::soften, {Says::softenIt, Figure{add, 2}}, c.layer.id,
                                        with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", add)));
          v.remedies.back().onlyAsked = Says::wouldSoften;
        } else {
          // A blurred edge and its blur of the same width differ by 1 − 1/√2 of its slope.
          double at = sigma, amount = (v.reading - 1) / 0.293;
          if (surfaceContinues) {
            // Tried out on both sides.
            at = std::max(0.6, std::sqrt(std::max(0.0, sigma * sigma - target * target)));
            const Reading tried = measure::sharpeningAcross(p.own, p.scene, c.fine.outline, at);
            if (tried.available) amount = tried.value;
          }
          const double blur = std::sqrt(std::max(0.0, sigma * sigma - target * target));
          if (blur >= kTurnedBackPx) {
            // The less grain there is, the further it can go back.
            const Reading grain = measure::grainLevel(c.fine.ownGrain);
            const double undone = std::min(8.0, blur), noise = grain.available ? 255 * grain.value : 1;
            scene::ParametricAdjustment back = with(scene::parametric(scene::AdjustmentId::deblur), "sigma", undone);
            back = with(back, "held", std::clamp(0.003 * noise, 0.001, 0.05));
            v.remedies.push_back(confined(RemedyId::undoBlur, {Says::undoBlur, Figure{undone, 2}}, c.layer.id, back));
          }
          scene::ParametricAdjustment s =
              with(scene::parametric(scene::AdjustmentId::sharpen), "threshold", surfaceContinues ? 0 : 0.01);
          s = with(s, "sigma", std::clamp(at, 0.3, 10.0));
          s = with(s, "amount", std::clamp(amount, 0.2, 5.0));
          v.sceneRemedies.push_back(
              ofTheScene(RemedyId::softenScene, {Says::softenScene, Figure{blur, 2}}, c.layer.id,
                         with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", std::max(0.1, blur))));
          v.remedies.push_back(confined(RemedyId::sharpen, {Says::sharpenIt, Figure{at, 2}}, c.layer.id, s));
        }
      }
    }
    c.add(std::move(v));
  }
}

void judgeResolution(const Case& c) {
  const std::string& name = c.layer.name;
  if (const auto* picture = c.layer.picture(); picture && !picture->byHand) {
    Verdict v = c.begin(KindId::effectiveResolution);
    v.available = true;
    v.target = 100;
    v.reading = 100 * picture->placement.scale;
    v.excess = v.reading <= 100 ? 0 : (v.reading - 100) / std::max(1.0, v.tolerance - 100);
    if (v.out()) {
      v.sentence = {Says::enlarged, name, Figure{v.reading, 0}};
      const scene::LayerId id = c.layer.id;
      v.remedies.push_back({RemedyId::trueSize, Says::trueSize,
                            [id](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
                              const scene::Layer* l = scene::findLayer(s, id);
                              if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
                              scene::Placement at = l->picture()->placement;
                              const base::Size size = l->picture()->source.size();
                              // The foot stays where it is.
                              at.x += (at.scale - 1) * size.width / 2;
                              at.y += (at.scale - 1) * size.height;
                              at.scale = 1;
                              return scene::Edit(scene::SetPlacement{id, at});
                            },
                            Says::wouldResize});
    }
    c.add(std::move(v));
  }
}

}  // namespace

// Of the ring, what lies round the lowest quarter of the subject: as far from the camera as its foot.
image::Raster<std::uint8_t> footRing(const Specimen& specimen) {
  constexpr double kFoot = 0.75;
  image::Raster<std::uint8_t> out = specimen.fine.ring;
  for (int y = 0; y < out.height(); ++y) {
    for (int x = 0; x < out.width(); ++x) {
      if (*out.at(x, y) == 0) continue;
      const base::Rect there = specimen.inScene({x, y, 1, 1});
      if (there.y < specimen.bounds.y + int(kFoot * specimen.bounds.height)) *out.at(x, y) = 0;
    }
  }
  return out;
}

FineReadings fineReadingsOf(const Specimen& specimen, base::Size canvas) {
  const Pair& p = specimen.fine;
  FineReadings r;
  r.outline = measure::outlineOf(p.own);
  // Where the user says what to compare with, the seam does not say it.
  r.surfaceContinues = !specimen.marked && measure::acrossSeam(measure::pairsAcross(p.own, p.scene, r.outline)).surfaceContinues;
  const measure::Sharpness own = measure::sharpnessOf({p.own, p.inside});
  r.ownBlur = own.typical;
  r.sceneBlur = measure::sharpnessOf({p.scene, p.whole}).typical;
  if (!r.surfaceContinues) {
    r.ownSharpest = own.sharpest;
    // A foot that the picture cuts off stands on nothing that is seen.
    if (!specimen.marked && specimen.bounds.bottom() < canvas.height - canvas.height / 50) {
      const measure::Sharpness floor = measure::sharpnessOf({p.scene, footRing(specimen)});
      r.floorBlur = floor.typical;
      r.floorSharpest = floor.sharpest;
      r.floorPlaces = floor.places;
    }
  }
  r.ownGrain = measure::grainOf({p.own, p.inside});
  r.sceneGrain = measure::grainOf({p.scene, p.whole});
  return r;
}

void judgeDetail(const Case& c) {
  judgeGrain(c);
  judgeSharpness(c);
  judgeResolution(c);
}

}  // namespace hseam::findings
