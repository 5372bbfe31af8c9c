#pragma once
// The kinds of findings: names, units and tolerances, in one table. A project may override tolerances (scene::Judging).

#include <optional>
#include <string>
#include <vector>

#include "core/scene/judging.h"

namespace hseam::findings {

enum class KindId {
  blackPoint,
  whitePoint,
  midTone,
  cast,
  saturation,
  grain,
  sharpness,
  clipping,
  halo,
  edgeSoftness,
  jaggedness,
  leftovers,
  effectiveResolution,
  lightDirection,
  paperVeil,
  groundSize,
  contactShadow,
  castShadow,
  cameraHeight,
  frameFit,
  brokenLines,
  cutThings
};

struct Kind {
  KindId id;
  const char* key;   // in files: "black_point"
  const char* name;  // for people
  const char* unit;
  double tolerance;    // of the difference; of a ratio the larger side: 1.25 stands for 0.8..1.25
  bool ratio = false;  // read as layer / scene
  const char* tip = "";
  bool alongTheEdge = false;  // visible only along the outline
  bool endOfTones = false;    // needs many pixels at that end of the tones
};
const std::vector<Kind>& kinds();
const Kind& kindOf(KindId id);
/// As files name it: "black_point".
std::string keyOf(KindId id);
/// Likewise; nothing: no kind has that key.
std::optional<KindId> kindNamed(const std::string& key);
/// The project's tolerance, else the table's.
double toleranceOf(const Kind& kind, const scene::Judging* judging);
/// Distance from the target in tolerances: above 1 is out of tolerance. Ratios by their logarithms.
double excessOf(const Kind& kind, double reading, double target, double tolerance);

}  // namespace hseam::findings
