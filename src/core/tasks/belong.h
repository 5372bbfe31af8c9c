#pragma once
// Runs findings::belong for the cut-outs of a scene, one after the other.

#include "core/findings/belong.h"

namespace hseam::tasks {

struct BelongOptions {
  std::string layer = {};              // its name; empty: every layer that is judged
  std::vector<std::string> only = {};  // keys of kinds; empty: all
  bool sceneToSubject = false;         // see findings::BelongOptions
  double strength = 1;                 // likewise
};
struct LayerBelongs {
  scene::LayerId layer;
  std::string name;
  findings::Belonging done;
};
/// Each layer is mended in the scene that the ones before it resulted in. told: called for each; an error from it ends the work.
/// Errors: notFound (no judged layer of that name), invalid (no such kind), those of findings::belong.
base::Status belong(const scene::Scene& scene, const BelongOptions& options, base::Executor& executor,
                    const base::Progress& progress, const std::function<base::Status(const LayerBelongs&)>& told);

}  // namespace hseam::tasks
