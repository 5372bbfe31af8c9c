#pragma once
// Sessions of work on a scene, separated by pauses.

#include <cstdint>
#include <string>
#include <vector>

#include "core/scene/history.h"

namespace hseam::scene {

/// Steps that followed each other without a pause.
struct Visit {
  int first = 0, last = 0;                // steps of the history
  std::int64_t beganMs = 0, endedMs = 0;  // since 1970
};

/// Of the steps up to the current one, the earliest visit first. A pause is pauseMs without a step; steps whose time is not known
/// (0) belong to the visit before them.
std::vector<Visit> visitsOf(const History& history, std::int64_t pauseMs);

/// What was done after a step, up to the current one: labels in order, what came several times in a row as "label (3 times)".
std::vector<std::string> doneSince(const History& history, int step);

}  // namespace hseam::scene
