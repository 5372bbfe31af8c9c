#pragma once
// The kinds of findings: what they are called, in what they are read, and when they are out. One table; tolerances can be changed
// here and, by project, in scene::Judging.

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
  bool alongTheEdge = false;  // shows along the outline and nowhere else
  bool endOfTones = false;    // can be read only where many pixels lie at it
};
const std::vector<Kind>& kinds();
const Kind& kindOf(KindId id);
/// As files name it: "black_point".
std::string keyOf(KindId id);
/// Likewise; nothing: no kind has that key.
std::optional<KindId> kindNamed(const std::string& key);
/// As the project wants it.
double toleranceOf(const Kind& kind, const scene::Judging* judging);
/// How far out: 1 is just out. Ratios by their logarithms.
double excessOf(const Kind& kind, double reading, double target, double tolerance);

}  // namespace hseam::findings
