#pragma once
// The kinds of remedies.

namespace hseam::findings {

enum class RemedyId {
  deepenShadows,
  liftShadows,
  lowerHighlights,
  raiseHighlights,
  sceneEnds,
  shiftMiddle,
  sceneMiddle,
  saturation,
  sceneSaturation,
  balance,
  sceneBalance,
  weaker,
  standRight,
  meetHorizons,
  mirror,
  shade,
  whitePaper,
  contactShadow,
  castAlike,
  addGrain,
  calmScene,
  calmGrain,
  grainOnScene,
  soften,
  undoBlur,
  softenScene,
  sharpen,
  trueSize,
  softenCut,
  smoothSteps,
  cleanUp,
  cleanEdge,
  tighter,
  crisperCut,
  edgeFromInside,
  leaveFrameOut,
  takeFromFrame
};
/// Its name in files: "lift_shadows".
const char* keyOf(RemedyId id);

}  // namespace hseam::findings
