#pragma once
// The judges: each takes a specimen and adds the verdicts of its kinds.

#include "core/findings/found_floor.h"
#include "core/findings/report.h"
#include "core/findings/specimen.h"
#include "core/measure/grain.h"
#include "core/measure/outline.h"

namespace hseam::findings {

/// Readings of the specimen's fine pair that more than one kind is judged by.
struct FineReadings {
  std::vector<measure::OutlinePlace> outline;
  bool surfaceContinues = false;              // the same surface lies on both sides of the seam
  measure::Reading ownBlur, sceneBlur;        // inside of the subject; of all of the scene
  measure::Reading ownSharpest;               // of the sharpest tenth of its edges
  measure::Reading floorBlur, floorSharpest;  // of the scene round its foot; of its sharpest tenth
  int floorPlaces = 0;                        // on clean edges of that floor
  measure::Grain ownGrain, sceneGrain;        // likewise
};
/// canvas: of the scene.
FineReadings fineReadingsOf(const Specimen& specimen, base::Size canvas);

/// A verdict of a layer with its tolerance, without a region.
Verdict beginVerdict(KindId kind, const scene::Scene& scene, const scene::Layer& layer);

struct Case {
  const scene::Scene& scene;
  const scene::Layer& layer;
  const Specimen& specimen;
  const FineReadings& fine;
  std::vector<Verdict>& out;
  const FoundFloor& found;  // where nobody drew the floor

  /// A verdict of this layer with its tolerance; region: the layer's bounds.
  Verdict begin(KindId kind) const;
  void add(Verdict v) const { out.push_back(std::move(v)); }
};

void judgeTones(const Case& c);       // black, white, middle, saturation, cast
void judgeDetail(const Case& c);      // grain, sharpness, effective resolution
void judgeEdge(const Case& c);        // halo, softness of the cut, leftovers, steps
void judgeContact(const Case& c);     // whether it floats
void judgeCastShadow(const Case& c);  // whether it casts a shadow where others do
void judgeStanding(const Case& c);    // size on the ground, camera height
void judgeLight(const Case& c);       // from where light falls on it
void judgeClipping(const Case& c);    // by what is confined to it
void judgeVeil(const Case& c);        // of what is multiplied: whether its paper is white
/// Whether its frames lie on one another and meet at their seams. Nothing is added for a picture without frames. Errors: what
/// reading says, cancelled.
base::Status judgeFrames(const scene::Scene& scene, const scene::Layer& layer, base::Executor& executor,
                         const std::stop_token& stop, std::vector<Verdict>& out);
/// One cause, one finding: removes findings that follow from another one.
void keepCauses(std::vector<Verdict>& verdicts);

}  // namespace hseam::findings
