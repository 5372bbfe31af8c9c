#pragma once
// How strictly a project is judged: named sets of tolerances.

#include "core/findings/kinds.h"

namespace hseam::findings {

struct ToleranceSet {
  const char* key;   // in files: scene::Judging::tolerances
  const char* name;  // for people
  double factor;     // of the usual tolerances; of ratios' logarithms
  const char* tip;
};
const std::vector<ToleranceSet>& toleranceSets();

/// A set of the user's own: a tolerance for each kind that differs from the usual one.
struct OwnToleranceSet {
  std::string name;
  std::map<std::string, double> tolerance;
};
/// As JSON text, to be kept beside all projects.
std::string toleranceSetRecord(const OwnToleranceSet& set);
/// Kinds that are unknown here are left out. Errors: corrupt, invalid (a tolerance that is none).
base::Result<OwnToleranceSet> toleranceSetFromRecord(const std::string& record);
scene::Judging judgedBy(scene::Judging judging, const OwnToleranceSet& set);

/// The judging with the tolerances of a set; what was answered and which kinds are off stays. An unknown key is the usual set.
scene::Judging judgedBy(scene::Judging judging, const std::string& set);

}  // namespace hseam::findings
