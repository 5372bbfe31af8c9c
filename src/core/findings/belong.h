#pragma once
// Applies the remedies of a layer's findings, one kind after another.

#include "core/findings/report.h"

namespace hseam::findings {

/// The order in which kinds are mended: later readings depend on earlier remedies.
const std::vector<KindId>& orderOfWork();

struct Belonging {
  struct Step {
    KindId kind = KindId::blackPoint;
    Words label;
    double before = 0, after = 0;  // the reading; after is the target where it cannot be read again
    bool done = false;
    Words why;  // why not, where it was not done
  };
  scene::Several edit;  // all remedies as one step; empty if nothing could be mended (`steps` say why)
  std::vector<Step> steps;
  double before = 100, after = 100;  // the layer's tightness
};

struct BelongOptions {
  std::vector<KindId> without = {};  // kinds that are not to be touched
  std::vector<KindId> only = {};     // where not empty, the only ones that are
  /// For tones, colours, grain and sharpness: adjusts what lies behind the layer to match it, instead of the layer.
  bool sceneToSubject = false;
  /// Opacity of the adjustment layers that are made, 0..1. Changes of the mask and of edge colours are always made in full.
  double strength = 1;
};

/// Tries the remedies of each of the layer's findings in that order and measures again after each. A remedy is kept if its
/// reading gets nearer to the target by at least a fifth and the layer's tightness does not fall; one that changes the scene must
/// not lower the tightness of other layers either. Remedies with Remedy::onlyAsked are not tried. Errors: what judging says.
base::Result<Belonging> belong(const scene::Scene& scene, scene::LayerId layer, const BelongOptions& options,
                               base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::findings
