// judge_bench PHOTOS [-v] [-seed N]: what is found in composites of pictures that others made (truth/foreign_scenes.h): faults
// under their name, what else is found beside them, what is found in clean ones, and in photographs put back on themselves. The
// first, third … cut-out was tuned on, the rest was not. Another seed sets them on other grounds.

#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>

#include "core/findings/report.h"
#include "truth/foreign_scenes.h"
#include "truth/must.h"

namespace {

using namespace hseam;
using truth::must;

constexpr const char* kKinds[] = {"black_point", "white_point", "cast",          "saturation", "grain",
                                  "sharpness",   "halo",        "edge_softness", "leftovers"};

// Of where a subject stands nothing was planted.
bool counts(const findings::Verdict& v) {
  using findings::KindId;
  for (const KindId standing :
       {KindId::contactShadow, KindId::castShadow, KindId::groundSize, KindId::cameraHeight, KindId::lightDirection}) {
    if (v.kind == standing) return false;
  }
  return true;
}

struct Half {
  int clean = 0, falseOnes = 0, faulty = 0, extra = 0;
  std::map<std::string, std::map<std::string, int>> found;  // planted → found
  std::map<std::string, std::pair<int, int>> recall;
  void tell(const char* name) const {
    std::printf("== %s\n", name);
    int hits = 0, all = 0;
    for (const auto& [kind, row] : found) {
      const auto at = recall.find(kind);
      std::printf("%-14s", kind.c_str());
      if (at != recall.end()) {
        std::printf(" %d/%d ", at->second.first, at->second.second);
        hits += at->second.first, all += at->second.second;
      }
      for (const auto& [what, n] : row) std::printf("  %s %d", what.c_str(), n);
      std::printf("\n");
    }
    std::printf("found %.0f %%; false %.2f a clean scene, %.2f beside a fault\n", 100.0 * hits / std::max(1, all),
                double(falseOnes) / std::max(1, clean), double(extra) / std::max(1, faulty));
  }
};

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  bool loud = false;
  unsigned first = 0;
  for (int i = 2; i < argc; ++i) {
    loud |= std::strcmp(argv[i], "-v") == 0;
    if (std::strcmp(argv[i], "-seed") == 0 && i + 1 < argc) first = unsigned(std::atoi(argv[i + 1]));
  }
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  const auto report = [&](const truth::ForeignScene& s, const findings::Report& r) {
    if (!loud) return;
    std::printf("%-34s %-13s %.1f:", s.name.c_str(), s.kind.c_str(), s.excess);
    for (const auto& v : r.readings) {
      if (counts(v) && (v.out() || findings::keyOf(v.kind) == s.kind))
        std::printf(" %s%s %.2f x%.2f%s;", v.out() ? "" : "(", findings::keyOf(v.kind).c_str(), v.reading, v.excess,
                    v.available ? "" : v.reason.text().c_str());
    }
    std::printf("\n");
  };
  // Composites have no contact shadow, photographs mostly do.
  struct Floating {
    int judged = 0, out = 0;
    void count(const findings::Report& r) {
      for (const auto& v : r.readings) {
        if (v.kind == findings::KindId::contactShadow && v.available) ++judged, out += v.out();
      }
    }
  } composites, photographs;
  int untouched = 0;
  for (const auto& s : truth::maskedAndPutBack(argv[1], memory, *pool)) {
    const auto r = must(findings::reportOn(s.scene, *pool, {}));
    report(s, r);
    photographs.count(r);
    for (const auto& v : r.findings) untouched += counts(v) && v.kind != findings::KindId::leftovers;
  }
  const truth::ForeignScenes scenes(argv[1], memory, *pool);
  Half halves[2];
  for (int i = 0; i < scenes.subjects(); ++i) {
    Half& half = halves[i % 2];
    for (unsigned seed = 0; seed < 2; ++seed) {
      const auto s = scenes.scene(i, first + seed, "", 0, true);
      const auto r = must(findings::reportOn(s.scene, *pool, {}));
      ++half.clean;
      composites.count(r);
      for (const auto& v : r.findings) {
        if (counts(v)) ++half.falseOnes, ++half.found["(clean)"][findings::keyOf(v.kind)];
      }
      report(s, r);
    }
    for (unsigned k = 0; k < std::size(kKinds); ++k) {
      const unsigned seed = first + unsigned(i) * 9 + k;
      // Each subject has every second kind.
      if ((unsigned(i / 2) + k) % 2) continue;
      const auto s = scenes.scene(i, seed, kKinds[k], (seed / 2) % 2 ? 4 : 2.5, (seed / 4) % 2);
      const auto r = must(findings::reportOn(s.scene, *pool, {}));
      ++half.faulty;
      bool hit = false;
      for (const auto& v : r.findings) {
        if (!counts(v)) continue;
        ++half.found[s.kind][findings::keyOf(v.kind)];
        hit |= findings::keyOf(v.kind) == s.kind;
        half.extra += findings::keyOf(v.kind) != s.kind;
      }
      half.recall[s.kind].first += hit, ++half.recall[s.kind].second;
      report(s, r);
    }
    std::fflush(stdout);
  }
  halves[0].tell("foreign subjects, the half that was tuned on");
  halves[1].tell("foreign subjects, the half that was not");
  std::printf("photographs masked and put back: %d findings\n", untouched);
  std::printf("said to float: %d of %d composites that stand, %d of %d photographs\n", composites.out, composites.judged,
              photographs.out, photographs.judged);
  return 0;
}
