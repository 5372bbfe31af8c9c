#pragma once
// Named sets of tolerances.

#include "core/findings/kinds.h"

namespace hseam::findings {

struct ToleranceSet {
  const char* key;   // in files: scene::Judging::tolerances
  const char* name;  // for people
  double factor;     // multiplies the table's tolerances (of ratios, their logarithms)
  const char* tip;
};
const std::vector<ToleranceSet>& toleranceSets();

/// A user's own set: tolerances of the kinds that differ from the table.
struct OwnToleranceSet {
  std::string name;
  std::map<std::string, double> tolerance;
};
/// As JSON text; own sets are kept for all projects.
std::string toleranceSetRecord(const OwnToleranceSet& set);
/// Unknown kinds are ignored. Errors: corrupt, invalid (not a tolerance).
base::Result<OwnToleranceSet> toleranceSetFromRecord(const std::string& record);
scene::Judging judgedBy(scene::Judging judging, const OwnToleranceSet& set);

/// `judging` with the tolerances of a set; dismissed findings and kinds that are off stay. An unknown key means the table's
/// tolerances.
scene::Judging judgedBy(scene::Judging judging, const std::string& set);

}  // namespace hseam::findings
