// A picture that is set together from frames: whether they lie on one another, and whether its seams are seen.

#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/frames/overlaps.h"
#include "core/frames/seam_breaks.h"
#include "core/sets/assembled.h"

namespace hseam::findings {
namespace {

using base::Result;
using scene::FrameSet;

// The layer's frames changed and set together anew.
Result<scene::Edit> setAnew(const scene::Scene& s, scene::LayerId id, std::size_t frame, const std::string& how,
                            base::Executor& executor, const std::function<base::Status(FrameSet&)>& change) {
  const scene::Layer* l = scene::findLayer(s, id);
  if (!l || !l->picture() || !l->picture()->frames || frame >= l->picture()->frames->frames.size())
    return base::Error{base::Code::notFound, l ? l->name : "", "the frame is gone"};
  FrameSet set = *l->picture()->frames;
  HSEAM_DO(change(set));
  sets::LaidFrames laid;
  HSEAM_TRY(const sets::Assembled made, sets::assembled(set, laid, executor, {}));
  set.labels = made.labels;
  return scene::Edit(scene::SetFrames{id, std::make_shared<const FrameSet>(std::move(set)), made.picture, how});
}

Remedy withoutFrame(scene::LayerId id, std::size_t frame) {
  return {
      RemedyId::leaveFrameOut, {Says::leaveFrameOut, frame + 1}, [id, frame](const scene::Scene& s, base::Executor& executor) {
        return setAnew(s, id, frame, "frame " + std::to_string(frame + 1) + " is left out", executor,
                       [&](FrameSet& set) -> base::Status {
                         set.frames[frame].used = false;
                         return {};
                       });
      }};
}

// What a seam cuts through comes whole from one of both.
Remedy fromFrame(scene::LayerId id, const frames::SeamBreak& place, std::size_t frame) {
  const frames::Overlap both{place.where, {place.first, place.second}, place.first, 0};
  return {RemedyId::takeFromFrame,
          {Says::takeFromFrame, frame + 1},
          [id, both, frame](const scene::Scene& s, base::Executor& executor) {
            return setAnew(
                s, id, frame, "a place of frame " + std::to_string(frame + 1), executor, [&](FrameSet& set) -> base::Status {
                  const image::TiledImage& base = set.frames[0].picture;
                  HSEAM_TRY(set.picks, frames::broughtToFront(set.picks, base.size(), both, frame, base.memory(), executor));
                  return {};
                });
          }};
}

void judgeFit(const scene::Scene& scene, const scene::Layer& layer, const FrameSet& set, const base::Rect& all,
              std::vector<Verdict>& out) {
  Verdict v = beginVerdict(KindId::frameFit, scene, layer);
  v.region = all;
  std::size_t worst = 0;
  for (std::size_t k = 1; k < set.frames.size(); ++k) {
    if (set.frames[k].used && (worst == 0 || set.frames[k].residualPx > set.frames[worst].residualPx)) worst = k;
  }
  if (worst == 0) {
    v.reason = Says::noOtherFrame;
  } else {
    v.available = true;
    v.reading = set.frames[worst].residualPx;
    v.excess = v.reading / v.tolerance;
    if (v.out()) {
      v.sentence = {Says::frameLiesOff, worst + 1, layer.name, set.frames[worst].name, Figure{v.reading, 2}};
      v.remedies.push_back(withoutFrame(layer.id, worst));
    }
  }
  out.push_back(std::move(v));
}

// Of the breaks of one sort, the worst with its place in the scene.
void sayBreaks(Verdict& v, const std::vector<frames::SeamBreak>& breaks, const base::Affine& toScene, Says one, Says many,
               const std::string& name, double shown) {
  const frames::SeamBreak& worst = breaks.front();
  v.region = base::boundsOf(toScene, worst.where);
  const Figure figure{shown, 1};
  if (one == Says::lineBreaks) {
    v.sentence = breaks.size() == 1 ? Words(one, name, figure, worst.first + 1, worst.second + 1)
                                    : Words(many, name, breaks.size(), figure, worst.first + 1, worst.second + 1);
  } else {
    v.sentence = breaks.size() == 1 ? Words(one, name, worst.first + 1, worst.second + 1, figure)
                                    : Words(many, name, breaks.size(), worst.first + 1, worst.second + 1, figure);
  }
}

}  // namespace

base::Status judgeFrames(const scene::Scene& scene, const scene::Layer& layer, base::Executor& executor,
                         const std::stop_token& stop, std::vector<Verdict>& out) {
  const scene::PictureContent* p = layer.picture();
  if (!p || !p->frames) return {};
  const FrameSet& set = *p->frames;
  const base::Affine toScene = p->placement.toScene(p->source.size());
  const base::Rect all = base::boundsOf(toScene, base::Rect::of(p->source.size())).intersected(base::Rect::of(scene.canvas));
  judgeFit(scene, layer, set, all, out);
  Verdict lines = beginVerdict(KindId::brokenLines, scene, layer), things = beginVerdict(KindId::cutThings, scene, layer);
  lines.region = things.region = all;
  if (set.way != FrameSet::Way::picked || set.labels.isNull()) {
    lines.reason = things.reason = Says::setInOneLight;
  } else {
    sets::LaidFrames laid;
    const base::Progress progress(stop);
    HSEAM_TRY(const std::vector<frames::Frame> frames, laid.of(set, executor, progress));
    HSEAM_TRY(const auto breaks, frames::seamBreaks(frames, set.labels, executor, progress));
    std::vector<frames::SeamBreak> broken, cut;
    for (const frames::SeamBreak& b : breaks) {
      if (b.px > lines.tolerance) broken.push_back(b);
      if (b.px == 0 && 100 * b.difference > things.tolerance) cut.push_back(b);
    }
    const auto most = [](const frames::SeamBreak& a, const frames::SeamBreak& b) { return a.px > b.px; };
    std::sort(broken.begin(), broken.end(), most);
    lines.available = things.available = true;
    for (const frames::SeamBreak& b : breaks) {
      lines.reading = std::max(lines.reading, b.px);
      if (b.px == 0) things.reading = std::max(things.reading, 100 * b.difference);
    }
    lines.excess = lines.reading / lines.tolerance;
    things.excess = things.reading / things.tolerance;
    if (lines.out()) sayBreaks(lines, broken, toScene, Says::lineBreaks, Says::linesBreak, layer.name, lines.reading);
    if (things.out()) {
      sayBreaks(things, cut, toScene, Says::thingIsCut, Says::thingsAreCut, layer.name, things.reading);
      for (const std::size_t frame : {cut.front().first, cut.front().second})
        things.remedies.push_back(fromFrame(layer.id, cut.front(), frame));
    }
  }
  out.push_back(std::move(lines));
  out.push_back(std::move(things));
  return {};
}

}  // namespace hseam::findings
