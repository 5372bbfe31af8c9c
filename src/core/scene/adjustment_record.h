#pragma once
// Adjustments as JSON, for the project file and for scene descriptions alike.

#include <nlohmann/json_fwd.hpp>

#include "core/scene/adjustment.h"

namespace hseam::scene {

/// {"curves": {"rgb": [[0,0],[1,1]]}}, {"gaussian": {"sigma": 3}}: values at their initial state are left out.
nlohmann::json toJson(const Adjustment& adjustment);
/// Throws nlohmann's exceptions where the form is wrong; errors: invalid (a value that the adjustment does not have, a table that
/// does not read). Ranges are not checked here.
base::Result<Adjustment> adjustmentFromJson(const nlohmann::json& json);

}  // namespace hseam::scene
