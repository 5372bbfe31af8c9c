#pragma once
// Making a layer belong where it was put, in one go.

#include "core/findings/report.h"

namespace hseam::findings {

/// The order of the work: what is measured later rests on what comes before.
const std::vector<std::string>& orderOfWork();

struct Belonging {
  struct Step {
    std::string kind, label;
    double before = 0, after = 0;  // the reading
    bool done = false;             // false: it could not be told again, or the remedy failed
  };
  scene::Several edit;  // all remedies as one step
  std::vector<Step> steps;
};

/// Applies the first remedy of each of the layer's findings in the order of work, reading anew after each. Remedies that make
/// their reading no better are left out. `without`: kinds that are not to be touched. Errors: invalid (nothing to mend), what
/// judging says.
base::Result<Belonging> belong(const scene::Scene& scene, scene::LayerId layer, const std::vector<std::string>& without,
                               base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::findings
