#include "core/scene/judging.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {

base::Status validJudging(const Judging& j) {
  const auto wrong = [](const char* what) { return base::Error{base::Code::invalid, "judging", what}; };
  constexpr std::size_t kMost = 10000;
  if (j.answered.size() > kMost || j.tolerance.size() > kMost || j.off.size() > kMost) return wrong("there is too much of it");
  for (const auto& [kind, value] : j.tolerance) {
    if (!(value > 0 && value < 1e6)) return wrong("a tolerance must be above 0");
  }
  if (!std::all_of(j.answered.begin(), j.answered.end(),
                   [](const Answered& a) { return std::isfinite(a.reading) && std::isfinite(a.excess); }))
    return wrong("an answered finding has no reading");
  return {};
}

}  // namespace hseam::scene
