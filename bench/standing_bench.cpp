// standing_bench FOLDER [-v | kinds] [light]: subjects set into rendered places (truth/standing.h): how far they, and the floor
// at their feet, are from what it looks like when they stand there, before and after they were made to belong. The floor's
// horizon is answered as a person would answer it, with light also the question for a shadow of the place (shown.json). -v: every
// step; kinds: each kind of finding mended alone. Every other pair was tuned on, the rest is reported.

#include <algorithm>
#include <cstdio>
#include <cstring>

#include "core/findings/belong.h"
#include "core/scene/floor.h"
#include "core/tasks/show_light.h"
#include "truth/must.h"
#include "truth/standing.h"

namespace {

using namespace hseam;
using truth::must;

struct Half {
  std::vector<double> subject, floor;
  double before = 0, after = 0;  // sums over subjects
  int worse = 0;
  void tell(const char* name) {
    const auto middle = [](std::vector<double> v) {
      if (v.empty()) return 0.0;
      std::sort(v.begin(), v.end());
      return v[v.size() / 2];
    };
    std::printf(
        "%-14s subject: median %.0f %% of before, of the sum %.0f %%; floor: median %.0f %%; worse than before in %d of %zu\n",
        name, 100 * middle(subject), 100 * after / std::max(0.1, before), 100 * middle(floor), worse, subject.size());
  }
};

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  const bool loud = argc > 2 && std::strcmp(argv[2], "-v") == 0, kinds = argc > 2 && std::strcmp(argv[2], "kinds") == 0,
             light = std::strcmp(argv[argc - 1], "light") == 0;
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  Half halves[2];
  int i = 0;
  for (const truth::Standing& s : truth::standingSubjects(argv[1], memory, *pool)) {
    scene::Floor answered = scene::usualFloor(s.scene.canvas);
    answered.horizonY = s.floor.horizonY;
    scene::Scene asked = must(scene::apply(s.scene, scene::SetFloor{answered}));
    if (light && s.shadowless) asked.light = scene::PlaceLight{.casts = false};
    if (light && s.shown) {
      const auto shown = must(tasks::shownLight(asked, *s.shown, *pool));
      asked.light = shown.light;
      if (loud)
        std::printf("    light from %.0f deg, %.0f deg high, shadows leave %.2f %.2f %.2f %s\n", shown.light.from.azimuthDeg,
                    shown.light.from.elevationDeg, shown.light.colour[0], shown.light.colour[1], shown.light.colour[2],
                    shown.unmeasured.c_str());
    }
    const auto before = truth::fromTruth(s, asked, *pool);
    if (kinds) {
      for (const findings::KindId kind : findings::orderOfWork()) {
        findings::BelongOptions alone;
        alone.only = {kind};
        const auto one = must(findings::belong(asked, s.layer, alone, *pool, {}));
        if (one.edit.edits.empty()) continue;
        const auto then = truth::fromTruth(s, must(scene::apply(asked, one.edit)), *pool);
        std::printf("    %-16s alone: subject %5.1f -> %5.1f, floor %5.1f -> %5.1f\n", findings::keyOf(kind).c_str(),
                    before.subject, then.subject, before.floor, then.floor);
      }
    }
    const auto made = must(findings::belong(asked, s.layer, {}, *pool, {}));
    const auto after = truth::fromTruth(s, must(scene::apply(asked, made.edit)), *pool);
    Half& half = halves[i++ % 2];
    half.before += before.subject, half.after += after.subject;
    half.subject.push_back(after.subject / std::max(0.1, before.subject));
    half.floor.push_back(after.floor / std::max(0.1, before.floor));
    half.worse += after.subject > 1.005 * before.subject || after.floor > 1.005 * before.floor;
    std::printf("%-24s subject %5.1f -> %5.1f, floor %5.1f -> %5.1f, contact %3.0f %% -> %3.0f %% darker (truly %3.0f %%)",
                s.name.c_str(), before.subject, after.subject, before.floor, after.floor, 100 * before.contact,
                100 * after.contact, 100 * after.trueContact);
    std::printf(", tightness %.0f -> %.0f\n", made.before, made.after);
    if (loud) {
      for (const auto& step : made.steps)
        std::printf("    %s%s %.2f -> %.2f %s\n", step.done ? "" : "(not) ", findings::keyOf(step.kind).c_str(), step.before,
                    step.after, step.why.text().c_str());
    }
    std::fflush(stdout);
  }
  halves[0].tell("tuned on");
  halves[1].tell("not tuned on");
  return 0;
}
