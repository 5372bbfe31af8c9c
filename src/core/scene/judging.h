#pragma once
// The user's decisions about findings: tolerances, kinds that are off, dismissed findings. Part of the scene, so that undo and
// saving include them; the findings folder interprets them.

#include <map>
#include <set>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/scene/content/light.h"

namespace hseam::scene {

/// A finding that was answered: it stays quiet unless it becomes clearly worse.
struct Answered {
  std::string kind;  // "black_point"
  LayerId layer;
  double reading = 0;  // in the kind's unit, when it was answered
  double excess = 0;   // then
  std::string reason;  // the user's words
  bool wrong = false;  // "this finding is wrong": the reading itself is doubted
  friend bool operator==(const Answered&, const Answered&) = default;
};

struct Judging {
  std::string tolerances = "usual";         // name of the set that it began with
  std::map<std::string, double> tolerance;  // by kind, where it differs from the usual one
  std::set<std::string> off;                // kinds that are not looked for
  std::vector<Answered> answered;
  friend bool operator==(const Judging&, const Judging&) = default;
};

base::Status validJudging(const Judging& judging);

}  // namespace hseam::scene
