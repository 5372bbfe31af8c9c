#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/remedies.h"
#include "core/measure/halo.h"
#include "core/measure/jaggedness.h"
#include "core/measure/sharpness.h"

namespace hseam::findings {
namespace {

constexpr double kLeastWidthPx = 0.7, kLensPx = 1.6;
constexpr double kLeastHaloPx = 30;  // of the outline
constexpr double kAllAround = 0.65;  // of it, of a foreign subject

void judgeHalo(const Case& c, const std::vector<measure::OutlinePlace>& outline) {
  const Pair& p = c.specimen.fine;
  const std::string& name = c.layer.name;
  const measure::Halo h =
      c.fine.surfaceContinues ? measure::haloAcross(p.own, p.scene, outline) : measure::haloOf(p.own, outline);
  Verdict v = c.begin(KindId::halo);
  v.reason = h.size.reason;
  v.available = h.size.available;
  if (v.available) {
    v.reading = h.size.value;
    v.spread = h.size.spread;
    // What may as well be the subject's own variety is not held against it.
    const double sure = std::max(0.0, v.reading - 1.5 * v.spread);
    // Shading goes with the light's side, what an old background left is all around.
    const bool around = c.fine.surfaceContinues || h.share > kAllAround;
    v.excess = h.length < kLeastHaloPx || !around ? 0 : std::min(v.reading, sure + 0.5) / v.tolerance;
    if (!h.where.empty()) v.region = c.specimen.inScene(h.where);
  }
  if (v.out()) {
    const Says shade = std::abs(h.l) <= std::hypot(h.a, h.b) ? Says::ofAnotherColour : (h.l > 0 ? Says::lighter : Says::darker);
    v.sentence = {Says::oldBackgroundShows, Figure{h.length, 0}, name, shade, v.reading};
    v.remedies.push_back(coloursFromInside(c.layer.id));
    v.remedies.push_back(cleanEdge(c.layer.id));
    v.remedies.push_back(tighter(c.layer.id, 1));
  }
  c.add(std::move(v));
}

// Draws the cut's edge softer, so that its steps are no longer seen: in px of the scene.
Remedy softerCut(scene::LayerId id, double sigma, RemedyId remedy, Words label) {
  return {remedy, std::move(label), [id, sigma](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, id);
            if (!l) return base::Error{base::Code::notFound, "", "the layer is gone"};
            if (!l->mask.acts())
              return base::Error{base::Code::unsupported, l->name, "it has no mask: its edge is its picture's own"};
            scene::MaskNumbers n = l->mask.numbers;
            const double scale = l->picture() ? l->picture()->placement.scale : 1;
            n.softnessPx = std::min(200.0, std::hypot(n.softnessPx, sigma / scale));
            return scene::Edit(scene::SetMaskNumbers{id, std::move(n), "softened as its picture is"});
          }};
}

void judgeSoftness(const Case& c, const std::vector<measure::OutlinePlace>& outline) {
  const std::string& name = c.layer.name;
  const measure::Reading cut = measure::softnessOf(outline);
  const measure::Reading& scene = c.fine.sceneBlur;
  Verdict v = c.begin(KindId::edgeSoftness);
  v.target = 1;
  if (!cut.available || (!c.fine.ownBlur.available && !scene.available)) {
    v.reason = cut.available ? Words(Says::noCleanEdges) : Words(cut.reason);
  } else {
    const auto against = [&](const measure::Reading& r, double& times) {
      double width = std::max(1.0, measure::kWidthOfSigma * std::max(0.3, r.value));
      // Fine texture reads sharper than edges are: a cut as wide as a lens makes it is none the softer for that.
      if (!c.fine.surfaceContinues && cut.value > width) width = std::min(cut.value, std::max(width, kLensPx));
      times = cut.value / width;
      return std::min(std::abs(std::log(times)) / std::log(v.tolerance), std::abs(cut.value - width) / kLeastWidthPx);
    };
    // A surface may be soft where its outline is not: a cut is too crisp when it is crisper than the sharpest there is.
    const measure::Reading& own =
        !c.fine.surfaceContinues && c.fine.ownSharpest.available && cut.value < measure::kWidthOfSigma * c.fine.ownBlur.value
            ? c.fine.ownSharpest
            : c.fine.ownBlur;
    // First what the subject's own lens did, then the scene's; of a subject without clean edges the scene alone says little.
    constexpr double kByScene = 0.6;
    double byOwn = 1, byScene = 1;
    const double a = own.available ? against(own, byOwn) : 0, b = scene.available ? against(scene, byScene) : 0;
    v.available = true;
    const bool oneSide = !own.available || !scene.available || (byOwn - 1) * (byScene - 1) > 0;
    const bool ofOwn = own.available && (!scene.available || a < b);
    v.reading = ofOwn ? byOwn : byScene;
    v.excess = oneSide ? (ofOwn ? a : b) * (own.available || c.fine.surfaceContinues ? 1 : kByScene) : 0;
    v.spread = cut.spread / std::max(0.1, cut.value) * v.reading;
  }
  if (v.out()) {
    const double width = cut.value, wanted = cut.value / v.reading;
    v.sentence = {Says::cutFades, name, width, wanted};
    if (v.reading < 1) {
      const double sigma = std::sqrt(std::max(0.05, wanted * wanted - width * width)) / measure::kWidthOfSigma;
      v.remedies.push_back(softerCut(c.layer.id, sigma, RemedyId::softenCut, {Says::softenCut, Figure{sigma, 2}}));
    } else {
      v.remedies.push_back(crisper(c.layer.id, v.reading));
    }
  }
  c.add(std::move(v));
}

void judgeSteps(const Case& c, const std::vector<measure::OutlinePlace>& outline) {
  const measure::Reading steps = measure::jaggednessOf(c.specimen.fine.own, outline);
  Verdict v = c.begin(KindId::jaggedness);
  v.available = steps.available;
  v.reason = steps.reason;
  if (v.available) {
    v.reading = steps.value;
    v.spread = steps.spread;
    v.excess = steps.value / v.tolerance;
  }
  if (v.out()) {
    v.sentence = {Says::cutInSteps, c.layer.name, Figure{v.reading, 2}};
    const double sigma = std::clamp(6 * v.reading, 1.0, 5.0);
    v.remedies.push_back(softerCut(c.layer.id, sigma, RemedyId::smoothSteps, {Says::smoothCut, sigma}));
  }
  c.add(std::move(v));
}

void judgeLeftovers(const Case& c) {
  const Pair& p = c.specimen.fine;
  const std::string& name = c.layer.name;
  const auto left = measure::leftoversOf(p.own);
  Verdict v = c.begin(KindId::leftovers);
  v.available = true;
  std::vector<base::Rect> pieces, holes;
  double most = 0, sum = 0;
  base::Rect where;
  for (const measure::Leftover& l : left) {
    if (l.areaPx <= v.tolerance) continue;
    most = std::max(most, l.areaPx);
    sum += l.areaPx;
    const base::Rect one = c.specimen.inScene(l.where);
    (l.hole ? holes : pieces).push_back(one);
    where = where.united(one);
  }
  v.reading = most;
  v.excess = most / v.tolerance;
  if (v.out()) {
    v.region = where;
    const Words loose = pieces.size() == 1 ? Words(Says::onePiece) : Words(Says::pieces, pieces.size()),
                open = holes.size() == 1 ? Words(Says::oneHole) : Words(Says::holes, holes.size());
    const Figure all{sum, 0}, largest{most, 0};
    if (!pieces.empty() && !holes.empty()) {
      v.sentence = {Says::leftBoth, loose, open, all, name, largest};
    } else {
      v.sentence = {holes.empty() ? Says::leftPieces : Says::leftHoles, holes.empty() ? loose : open, all, name, largest};
    }
    v.remedies.push_back(withoutLeftovers(c.layer.id, pieces, holes));
  }
  c.add(std::move(v));
}

}  // namespace

void judgeEdge(const Case& c) {
  const auto& outline = c.fine.outline;
  judgeHalo(c, outline);
  judgeSoftness(c, outline);
  judgeSteps(c, outline);
  judgeLeftovers(c);
}

}  // namespace hseam::findings
