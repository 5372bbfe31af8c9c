#include "core/findings/report.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <mutex>
#include <optional>

#include "core/findings/depends.h"
#include "core/findings/judge.h"

namespace hseam::findings {
namespace {

// Of a layer's tightness: what the most visible finding takes off.
constexpr double kMostTaken = 0.6;
// An answered finding speaks again once it is worse by so much.
constexpr double kWorse = 1.25;

bool isQuiet(const Verdict& v, const scene::Judging* judging) {
  if (!judging) return false;
  if (judging->off.contains(keyOf(v.kind))) return true;
  return std::any_of(judging->answered.begin(), judging->answered.end(), [&](const scene::Answered& a) {
    return a.kind == keyOf(v.kind) && a.layer == v.layer && v.excess <= std::max(1.0, a.excess) * kWorse &&
           (a.reading - v.target) * (v.reading - v.target) >= 0;
  });
}

double severityOf(const Verdict& v, const base::Size& canvas) {
  constexpr double kEdgePx = 3;
  const double w = v.region.width, h = v.region.height, covered = kindOf(v.kind).alongTheEdge ? 2 * (w + h) * kEdgePx : w * h,
               share = covered / (double(canvas.width) * canvas.height);
  return v.excess / (v.excess + 2) * (0.55 + 0.45 * std::min(1.0, share / 0.05));
}

void judged(const std::vector<scene::LayerRef>& layers, std::vector<scene::LayerId>& out) {
  for (const auto& l : layers) {
    if (l->hidden || l->opacity <= 0) continue;
    if (const auto* g = l->group()) judged(g->layers, out);
    const auto* p = l->picture();
    if (p && !p->byHand) out.push_back(l->id);
  }
}

}  // namespace

Verdict beginVerdict(KindId kind, const scene::Scene& scene, const scene::Layer& layer) {
  Verdict v;
  v.kind = kind;
  v.layer = layer.id;
  v.layerName = layer.name;
  v.tolerance = toleranceOf(kindOf(kind), scene.judging.get());
  return v;
}

Verdict Case::begin(KindId kind) const {
  Verdict v = beginVerdict(kind, scene, layer);
  v.region = specimen.bounds;
  return v;
}

void keepCauses(std::vector<Verdict>& all) {
  const auto find = [&](KindId kind) -> Verdict* {
    const auto at = std::find_if(all.begin(), all.end(), [&](const Verdict& v) { return v.kind == kind && v.out(); });
    return at == all.end() ? nullptr : &*at;
  };
  // What follows from another thing is not a finding of its own.
  const auto follows = [](Verdict* v, Says from) {
    if (!v) return;
    v->reason = from;
    v->available = false;
  };
  Verdict *enlarged = find(KindId::effectiveResolution), *sharp = find(KindId::sharpness), *grain = find(KindId::grain),
          *soft = find(KindId::edgeSoftness), *black = find(KindId::blackPoint), *white = find(KindId::whitePoint),
          *mid = find(KindId::midTone), *colour = find(KindId::saturation);
  if (enlarged) {
    if (sharp && sharp->reading > 1) follows(sharp, Says::followsFromEnlargement), sharp = nullptr;
    if (grain && grain->reading < 1) follows(grain, Says::followsFromEnlargement), grain = nullptr;
    if (soft && soft->reading > 1) follows(soft, Says::followsFromEnlargement);
  }
  // A blur takes grain as well.
  if (sharp && sharp->reading > 1 && grain && grain->reading < 1) follows(grain, Says::followsFromBlur);
  // What is too light as a whole by more than at its ends is lighter there as well.
  const double ends = std::max(black ? black->excess : 0, white ? white->excess : 0);
  if (mid && mid->reading > 0 && mid->excess > ends) {
    for (Verdict** end : {&black, &white}) {
      if (*end && (*end)->reading > 0) follows(*end, Says::followsFromMiddle), *end = nullptr;
    }
  }
  // Tones squeezed or stretched at one end move the middle and thin or thicken the colours.
  if (black || white) follows(mid, Says::followsFromEnds);
  if ((black || white) && colour) follows(colour, Says::followsFromEnds);
}

std::string makeUpOf(const Report& report, scene::LayerId layer) {
  std::string out;
  for (const Verdict& v : report.findings) {
    if (v.layer != layer) continue;
    out += (out.empty() ? "" : ", ") + std::string(kindOf(v.kind).name) + " −" + textOf(Figure{100 * kMostTaken * v.severity, 0});
  }
  return out;
}

std::vector<scene::LayerId> judgedLayers(const scene::Scene& scene) {
  std::vector<scene::LayerId> out;
  judged(scene.layers, out);
  return out;
}

struct JudgedLayer {
  Depends by;
  bool any = false;       // false: there is nothing to judge
  bool compared = false;  // with what it is set into
  std::vector<Verdict> verdicts;
  LayerNumbers numbers;
};

namespace {

base::Result<std::shared_ptr<const JudgedLayer>> judgedOf(const scene::Scene& scene, scene::LayerId id, Depends by,
                                                          const FoundFloor& found, base::Executor& executor,
                                                          const std::stop_token& stop) {
  const scene::Layer& l = *scene::findLayer(scene, id);
  auto out = std::make_shared<JudgedLayer>(JudgedLayer{std::move(by), false, false, {}, {}});
  HSEAM_DO(judgeFrames(scene, l, executor, stop, out->verdicts));
  const auto finish = [&] {
    for (Verdict& v : out->verdicts) v.severity = v.out() ? severityOf(v, scene.canvas) : 0;
    return std::shared_ptr<const JudgedLayer>(out);
  };
  out->any = !out->verdicts.empty();
  HSEAM_TRY(const auto specimen, specimenOf(scene, id, executor, stop));
  if (!specimen) return finish();
  const FineReadings fine = fineReadingsOf(*specimen, scene.canvas);
  out->any = out->compared = true;
  out->numbers = numbersOf(*specimen, id, fine.ownGrain, fine.sceneGrain);
  const Case c{scene, l, *specimen, fine, out->verdicts, found};
  if (l.mode == scene::BlendMode::multiply) {
    // A kept shadow is nothing that stands there.
    judgeVeil(c);
  } else {
    judgeTones(c);
    judgeClipping(c);
    judgeDetail(c);
    judgeEdge(c);
    judgeLight(c);
    judgeStanding(c);
    judgeContact(c);
    judgeCastShadow(c);
  }
  keepCauses(out->verdicts);
  return finish();
}

// What the layers' verdicts come to.
void addUp(const scene::Scene& scene, scene::LayerId id, const JudgedLayer& judged, Report& report) {
  double loose = 1;
  for (Verdict v : judged.verdicts) {
    v.quiet = isQuiet(v, scene.judging.get());
    if (v.out() && !v.quiet) loose *= 1 - kMostTaken * v.severity;
    report.readings.push_back(v);
    if (v.out() && !v.quiet) report.findings.push_back(std::move(v));
  }
  if (judged.compared) report.numbers.push_back(judged.numbers);
  report.layers.push_back({id, scene::findLayer(scene, id)->name, 100 * loose});
}

}  // namespace

base::Result<Report> reportOn(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress,
                              const Report* before) {
  Report report;
  const auto layers = judgedLayers(scene);
  std::vector<std::shared_ptr<const JudgedLayer>> judged(layers.size());
  if (!scene.floor && !layers.empty()) {
    HSEAM_TRY(report.floor, foundFloor(scene, before ? &before->floor : nullptr));
  }
  std::mutex mutex;
  std::optional<base::Error> failed;
  int done = 0;
  // Layer beside layer: each is judged on one thread.
  executor.forEach(int(layers.size()), [&](int i) {
    if (progress.cancelled()) return;
    const scene::LayerId id = layers[std::size_t(i)];
    Depends by(scene, id);
    if (before) {
      const auto known = before->judged.find(id);
      if (known != before->judged.end() && known->second->by == by) {
        judged[std::size_t(i)] = known->second;
        return;
      }
    }
    base::InlineExecutor here;
    auto one = judgedOf(scene, id, std::move(by), report.floor, here, progress.token());
    const std::lock_guard lock(mutex);
    ++report.judgedAnew;
    progress.report(double(++done) / double(layers.size()));
    if (one.ok()) {
      judged[std::size_t(i)] = std::move(one).value();
    } else if (!failed) {
      failed = one.error();
    }
  });
  if (progress.cancelled()) return base::cancelledError();
  if (failed) return *failed;
  for (std::size_t i = 0; i < layers.size(); ++i) {
    report.judged[layers[i]] = judged[i];
    if (judged[i]->any) addUp(scene, layers[i], *judged[i], report);
  }
  for (const scene::Answered& a : scene.judging ? scene.judging->answered : std::vector<scene::Answered>{}) {
    const scene::Layer* l = scene::findLayer(scene, a.layer);
    const auto kind = kindNamed(a.kind);
    if (l && kind) report.answered.push_back({*kind, l->name, a.reason, a.wrong});
  }
  std::stable_sort(report.findings.begin(), report.findings.end(),
                   [](const Verdict& a, const Verdict& b) { return a.severity > b.severity; });
  if (!report.layers.empty()) {
    double sum = 0, worst = 100;
    for (const LayerTightness& l : report.layers) sum += l.tightness, worst = std::min(worst, l.tightness);
    report.tightness = (worst + sum / double(report.layers.size())) / 2;
  }
  return report;
}

}  // namespace hseam::findings
