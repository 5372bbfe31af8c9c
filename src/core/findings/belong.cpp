#include "core/findings/belong.h"

#include <algorithm>
#include <optional>

namespace hseam::findings {
namespace {

const Verdict* of(const std::vector<Verdict>& all, KindId kind, scene::LayerId layer) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const Verdict& v) { return v.kind == kind && v.layer == layer; });
  return at == all.end() ? nullptr : &*at;
}

double tightnessOf(const Report& report, scene::LayerId layer) {
  const auto at = std::find_if(report.layers.begin(), report.layers.end(), [&](const auto& l) { return l.layer == layer; });
  return at == report.layers.end() ? 100 : at->tightness;
}

constexpr double kNearer = 0.8;  // of the excess before
constexpr double kLoss = 0.5;    // of tightness, that reading anew may cost
// Excess: of regraded photographs, ends of the tones that lay less far out got worse where they could not be read again.
constexpr double kFarOut = 5;

bool wanted(const BelongOptions& o, KindId kind) {
  const auto has = [&](const std::vector<KindId>& v) { return std::find(v.begin(), v.end(), kind) != v.end(); };
  return !has(o.without) && (o.only.empty() || has(o.only));
}

// The scene with a remedy, and what is read then; nothing: it is not kept, for the reason in `why`.
struct Tried {
  scene::Edit edit;
  scene::Scene scene;
  Report report;
  double reading = 0;
};
base::Result<std::optional<Tried>> tried(const Remedy& remedy, bool ofTheScene, const Verdict& v, const scene::Scene& now,
                                         const Report& report, base::Executor& executor, const base::Progress& progress,
                                         Words& why) {
  const auto edit = remedy.make(now, executor);
  const auto next = edit.ok() ? scene::apply(now, *edit) : base::Result<scene::Scene>(edit.error());
  if (!next.ok()) {
    why = Words(next.error().text());
    return std::optional<Tried>();
  }
  HSEAM_TRY(Report then, reportOn(*next, executor, progress, &report));
  const Verdict* after = of(then.readings, v.kind, v.layer);
  // An end of the tones that lay far out is mended even where too few pixels are left at it to read it again.
  const bool mayBeUnread = kindOf(v.kind).endOfTones && v.excess > kFarOut;
  if (!after || (!after->available && !mayBeUnread)) {
    why = Says::notReadAgain;
  } else if (after->available && after->excess > kNearer * v.excess) {
    why = Says::changedTooLittle;
  } else if (tightnessOf(then, v.layer) < tightnessOf(report, v.layer) - kLoss) {
    why = Says::othersGotWorse;
  } else if (ofTheScene && then.tightness < report.tightness - kLoss) {
    why = Says::layersGotWorse;
  } else {
    return std::optional(Tried{*edit, *next, std::move(then), after->available ? after->reading : v.target});
  }
  return std::optional<Tried>();
}

// The layers that were not there before; of a new group, the group alone.
void findNew(const std::vector<scene::LayerRef>& layers, const scene::Scene& before, std::vector<scene::LayerId>& to) {
  for (const scene::LayerRef& l : layers) {
    if (!scene::findLayer(before, l->id)) {
      to.push_back(l->id);
    } else if (const auto* group = l->group()) {
      findNew(group->layers, before, to);
    }
  }
}

// What the steps added is shown that strongly, and everything read once more.
base::Status weaken(const scene::Scene& before, double strength, Belonging& done, scene::Scene& now, Report& report,
                    base::Executor& executor, const base::Progress& progress) {
  std::vector<scene::LayerId> added;
  findNew(now.layers, before, added);
  for (const scene::LayerId id : added) {
    const scene::Edit edit(scene::SetOpacity{id, scene::findLayer(now, id)->opacity * strength});
    HSEAM_TRY(now, scene::apply(now, edit));
    done.edit.edits.push_back({edit});
  }
  if (added.empty()) return {};
  HSEAM_TRY(report, reportOn(now, executor, progress, &report));
  return {};
}

}  // namespace

const std::vector<KindId>& orderOfWork() {
  static const std::vector<KindId> order = {KindId::cameraHeight, KindId::groundSize,   KindId::effectiveResolution,
                                            KindId::leftovers,    KindId::jaggedness,   KindId::lightDirection,
                                            KindId::paperVeil,    KindId::edgeSoftness, KindId::halo,
                                            KindId::whitePoint,   KindId::blackPoint,   KindId::midTone,
                                            KindId::cast,         KindId::saturation,   KindId::clipping,
                                            KindId::sharpness,    KindId::grain,        KindId::castShadow,
                                            KindId::contactShadow};
  return order;
}

base::Result<Belonging> belong(const scene::Scene& scene, scene::LayerId layer, const BelongOptions& options,
                               base::Executor& executor, const base::Progress& progress) {
  Belonging out;
  const scene::Layer* l = scene::findLayer(scene, layer);
  if (!l) return base::Error{base::Code::notFound, "", "the layer is gone"};
  out.edit.label = "make " + l->name + " belong";
  scene::Scene now = scene;
  HSEAM_TRY(Report report, reportOn(now, executor, progress.part(0, 0.15)));
  out.before = tightnessOf(report, layer);
  double share = 0.15;
  for (const KindId kind : orderOfWork()) {
    const Verdict* found = wanted(options, kind) ? of(report.findings, kind, layer) : nullptr;
    if (!found || found->remedies.empty()) continue;
    const Verdict v = *found;
    const bool ofTheScene = options.sceneToSubject && !v.sceneRemedies.empty();
    const std::vector<Remedy>& remedies = ofTheScene ? v.sceneRemedies : v.remedies;
    Belonging::Step step{kind, remedies.front().label, v.reading, 0, false, {}};
    for (const Remedy& remedy : remedies) {
      if (!remedy.onlyAsked.empty()) {
        step.why = {Says::forYouToSay, remedy.onlyAsked};
        continue;
      }
      share = std::min(0.95, share + 0.12);
      HSEAM_TRY(std::optional<Tried> better,
                tried(remedy, ofTheScene, v, now, report, executor, progress.part(share - 0.12, share), step.why));
      if (!better) continue;
      step = {kind, remedy.label, v.reading, better->reading, true, {}};
      out.edit.edits.push_back({better->edit});
      now = std::move(better->scene);
      report = std::move(better->report);
      break;
    }
    out.steps.push_back(std::move(step));
  }
  if (options.strength < 1) {
    HSEAM_DO(weaken(scene, std::max(0.0, options.strength), out, now, report, executor, progress.part(share, 1)));
    for (Belonging::Step& step : out.steps) {
      const Verdict* v = step.done ? of(report.readings, step.kind, layer) : nullptr;
      if (v && v->available) step.after = v->reading;
    }
  }
  out.after = tightnessOf(report, layer);
  progress.report(1);
  return out;
}

}  // namespace hseam::findings
