#pragma once

#include <nlohmann/json_fwd.hpp>

#include "core/scene/permission.h"

namespace hseam::scene {

/// As it lies in records. What reads throws nlohmann's exceptions where the form is wrong.
nlohmann::json permissionJson(const Permission& permission);
Permission permissionFrom(const nlohmann::json& record);

}  // namespace hseam::scene
