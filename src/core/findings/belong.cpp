#include "core/findings/belong.h"

#include <algorithm>
#include <cmath>

namespace hseam::findings {
namespace {

const Verdict* of(const std::vector<Verdict>& all, const std::string& kind, scene::LayerId layer) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const Verdict& v) { return v.kind == kind && v.layer == layer; });
  return at == all.end() ? nullptr : &*at;
}

}  // namespace

const std::vector<std::string>& orderOfWork() {
  static const std::vector<std::string> order = {"camera_height", "ground_size",   "effective_resolution",
                                                 "leftovers",     "jaggedness",    "light_direction",
                                                 "paper_veil",    "edge_softness", "halo",
                                                 "white_point",   "black_point",   "mid_tone",
                                                 "cast",          "saturation",    "clipping",
                                                 "sharpness",     "grain",         "contact_shadow"};
  return order;
}

base::Result<Belonging> belong(const scene::Scene& scene, scene::LayerId layer, const std::vector<std::string>& without,
                               base::Executor& executor, const base::Progress& progress) {
  Belonging out;
  const scene::Layer* l = scene::findLayer(scene, layer);
  if (!l) return base::Error{base::Code::notFound, "", "the layer is gone"};
  out.edit.label = "make " + l->name + " belong";
  scene::Scene now = scene;
  HSEAM_TRY(Report report, reportOn(now, executor, progress.part(0, 0.15)));
  double share = 0.15;
  for (const std::string& kind : orderOfWork()) {
    if (std::find(without.begin(), without.end(), kind) != without.end()) continue;
    const Verdict* v = of(report.findings, kind, layer);
    if (!v || v->remedies.empty()) continue;
    Belonging::Step step{kind, v->remedies.front().label, v->reading, 0, false};
    const double before = v->excess;
    const auto edit = v->remedies.front().make(now, executor);
    const auto next = edit.ok() ? scene::apply(now, *edit) : base::Result<scene::Scene>(edit.error());
    if (next.ok()) {
      share = std::min(0.95, share + 0.12);
      HSEAM_TRY(Report then, reportOn(*next, executor, progress.part(share - 0.12, share), &report));
      const Verdict* after = of(then.readings, kind, layer);
      if (after && after->told && after->excess < before) {
        step.after = after->reading;
        step.done = true;
        out.edit.edits.push_back({*edit});
        now = *next;
        report = std::move(then);
      }
    }
    out.steps.push_back(std::move(step));
  }
  progress.report(1);
  if (out.edit.edits.empty()) return base::Error{base::Code::invalid, l->name, "there is nothing that this could mend"};
  return out;
}

}  // namespace hseam::findings
