#pragma once
// Making a layer belong where it was put, in one go.

#include "core/findings/report.h"

namespace hseam::findings {

/// The order of the work: what is measured later rests on what comes before.
const std::vector<KindId>& orderOfWork();

struct Belonging {
  struct Step {
    KindId kind = KindId::blackPoint;
    Words label;
    double before = 0, after = 0;  // the reading; after: the target, where too little is left to read it again
    bool done = false;
    Words why;  // not done: why not
  };
  scene::Several edit;  // all remedies as one step; none: nothing could be mended, `steps` say why
  std::vector<Step> steps;
  double before = 100, after = 100;  // the layer's tightness
};

struct BelongOptions {
  std::vector<KindId> without = {};  // kinds that are not to be touched
  std::vector<KindId> only = {};     // where not empty, the only ones that are
  /// Tones, colours, grain and sharpness: what lies behind the layer is brought to it, not it to the scene.
  bool sceneToSubject = false;
  /// How strongly every step that is a layer of its own shows, 0..1; changes of the mask and of its own colours show wholly.
  double strength = 1;
};

/// Tries the remedies of each of the layer's findings in the order of work, reading anew after each. A remedy is kept where its
/// reading comes nearer by a fifth at least and the layer does not get worse by the others together (its tightness). None is
/// tried that only a person may ask for (Remedy::onlyAsked). What changes the scene must not make the other
/// layers worse either. Errors: what judging says.
base::Result<Belonging> belong(const scene::Scene& scene, scene::LayerId layer, const BelongOptions& options,
                               base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::findings
