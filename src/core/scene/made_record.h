#pragma once
// Paths, warps, masks by numbers, judging, the floor and the light of the place as JSON. What reads throws nlohmann's exceptions
// where the form is wrong; ranges are checked by whoever takes the result into a scene.

#include <nlohmann/json_fwd.hpp>

#include "core/scene/scene.h"

namespace hseam::scene {

nlohmann::json toJson(const path::Path& path);
/// Errors: corrupt (numbers that no path has).
base::Result<path::Path> pathFromJson(const nlohmann::json& json);
/// All but where it is held.
nlohmann::json toJson(const MaskNumbers& numbers);
MaskNumbers maskNumbersFromJson(const nlohmann::json& json);
nlohmann::json toJson(const Judging& judging);
Judging judgingFromJson(const nlohmann::json& json);
nlohmann::json toJson(const Floor& floor);
Floor floorFromJson(const nlohmann::json& json);
nlohmann::json toJson(const PlaceLight& light);
PlaceLight placeLightFromJson(const nlohmann::json& json);
nlohmann::json toJson(const Warp& warp);
Warp warpFromJson(const nlohmann::json& json);

}  // namespace hseam::scene
