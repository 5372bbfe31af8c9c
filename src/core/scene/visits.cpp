#include "core/scene/visits.h"

namespace hseam::scene {

std::vector<Visit> visitsOf(const History& history, std::int64_t pauseMs) {
  std::vector<Visit> visits;
  for (int i = 0; i <= history.current(); ++i) {
    const std::int64_t at = history.step(i).atMs;
    if (visits.empty() || (at > 0 && visits.back().endedMs > 0 && at - visits.back().endedMs >= pauseMs)) {
      visits.push_back({i, i, at, at});
      continue;
    }
    Visit& v = visits.back();
    v.last = i;
    if (at > 0) {
      v.endedMs = at;
      if (v.beganMs == 0) v.beganMs = at;
    }
  }
  return visits;
}

std::vector<std::string> doneSince(const History& history, int step) {
  std::vector<std::string> out;
  int times = 0;
  for (int i = step + 1; i <= history.current() + 1; ++i) {
    const bool same = i > step + 1 && i <= history.current() && history.step(i).label == history.step(i - 1).label;
    if (i > step + 1 && !same) {
      const std::string& label = history.step(i - 1).label;
      out.push_back(times > 1 ? label + " (" + std::to_string(times) + " times)" : label);
      times = 0;
    }
    ++times;
  }
  return out;
}

}  // namespace hseam::scene
