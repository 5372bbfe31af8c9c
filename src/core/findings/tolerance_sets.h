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

/// The judging with the tolerances of a set; what was answered and which kinds are off stays. An unknown key is the usual set.
scene::Judging judgedBy(scene::Judging judging, const std::string& set);

}  // namespace hseam::findings
