#pragma once
// Scenes with one subject, judged and mended.

#include "core/findings/report.h"
#include "pictures.h"

namespace hseam::test {

inline findings::Report judged(const scene::Scene& s) {
  return must(findings::reportOn(s, here(), {}));
}
inline std::string kindOf(const findings::Verdict& v) {
  return findings::keyOf(v.kind);
}
inline const findings::Verdict& reading(const findings::Report& r, const char* kind) {
  const auto at =
      std::find_if(r.readings.begin(), r.readings.end(), [&](const findings::Verdict& v) { return kindOf(v) == kind; });
  if (at == r.readings.end()) qFatal("no reading of %s", kind);
  return *at;
}
/// With the verdict's first remedy.
inline scene::Scene mended(const scene::Scene& s, const findings::Verdict& v) {
  if (v.remedies.empty()) qFatal("%s has no remedy", findings::keyOf(v.kind).c_str());
  return must(scene::apply(s, must(v.remedies.front().make(s, here()))));
}

}  // namespace hseam::test
