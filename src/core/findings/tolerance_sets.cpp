#include "core/findings/tolerance_sets.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"

namespace hseam::findings {

const std::vector<ToleranceSet>& toleranceSets() {
  static const std::vector<ToleranceSet> all = {
      {"usual", "usual", 1, "What a careful eye sees at the size of the screen"},
      {"strict", "strict, for large prints", 0.6, "Three fifths of the usual tolerances: what is looked at from near"},
      {"easy", "easy, for small pictures", 1.7, "Nearly twice the usual tolerances: what is seen small and in passing"}};
  return all;
}

std::string toleranceSetRecord(const OwnToleranceSet& set) {
  return base::jsonText({{"tolerances", set.name}, {"by_kind", set.tolerance}}, 2);
}

base::Result<OwnToleranceSet> toleranceSetFromRecord(const std::string& record) {
  const auto j = nlohmann::json::parse(record, nullptr, false);
  const auto corrupt = [](const char* what) { return base::Error{base::Code::corrupt, "tolerances", what}; };
  if (!j.is_object() || !j.contains("tolerances") || !j["tolerances"].is_string() || !j.contains("by_kind") ||
      !j["by_kind"].is_object())
    return corrupt("this is no set of tolerances");
  OwnToleranceSet set{j["tolerances"].get<std::string>(), {}};
  for (const auto& [kind, value] : j["by_kind"].items()) {
    if (!value.is_number()) return corrupt("a tolerance is no number");
    const bool known = std::any_of(kinds().begin(), kinds().end(), [&, k = kind](const Kind& each) { return k == each.key; });
    if (known) set.tolerance[kind] = value.get<double>();
  }
  scene::Judging judging;
  judging.tolerance = set.tolerance;
  HSEAM_DO(scene::validJudging(judging));
  return set;
}

scene::Judging judgedBy(scene::Judging judging, const OwnToleranceSet& set) {
  judging.tolerances = set.name;
  judging.tolerance = set.tolerance;
  return judging;
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
  judging.tolerance["effective_resolution"] = 100 + set.factor * (kindOf(KindId::effectiveResolution).tolerance - 100);
  return judging;
}

}  // namespace hseam::findings
