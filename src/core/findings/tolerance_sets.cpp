#include "core/findings/tolerance_sets.h"

#include <algorithm>
#include <cmath>

namespace hseam::findings {

const std::vector<ToleranceSet>& toleranceSets() {
  static const std::vector<ToleranceSet> all = {
      {"usual", "usual", 1, "What a careful eye sees at the size of the screen"},
      {"strict", "strict, for large prints", 0.6, "Three fifths of the usual tolerances: what is looked at from near"},
      {"easy", "easy, for small pictures", 1.7, "Nearly twice the usual tolerances: what is seen small and in passing"}};
  return all;
}

scene::Judging judgedBy(scene::Judging judging, const std::string& key) {
  const auto& sets = toleranceSets();
  const auto at = std::find_if(sets.begin(), sets.end(), [&](const ToleranceSet& s) { return key == s.key; });
  const ToleranceSet& set = at == sets.end() ? sets.front() : *at;
  judging.tolerances = set.key;
  judging.tolerance.clear();
  if (set.factor == 1) return judging;
  for (const Kind& k : kinds()) judging.tolerance[k.key] = k.ratio ? std::pow(k.tolerance, set.factor) : k.tolerance * set.factor;
  // A size is a share beyond 100 %.
  judging.tolerance["effective_resolution"] = 100 + set.factor * (kindOf("effective_resolution").tolerance - 100);
  return judging;
}

}  // namespace hseam::findings
