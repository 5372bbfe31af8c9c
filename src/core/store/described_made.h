#pragma once
// Procedural parts of a scene description: floor, lights, fills, words, parts of masks. docs/scene-json.md.

#include <nlohmann/json_fwd.hpp>
#include <set>
#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::store {

/// An error in a description, and the check that an object has no other keys than these.
base::Error wrongDescription(const std::string& where, const std::string& what);
base::Status onlyDescribedKeys(const nlohmann::json& object, const std::set<std::string>& allowed, const std::string& where);

/// A layer that points at another by its name, which may come later in the list.
struct NamedLink {
  scene::LayerId from;
  std::string to;
  bool light = false;  // its caster; else the layer of its mask's parts
};
/// Puts ids in the place of names, and a shadow's foot under its caster where none was given. Errors: invalid (no such picture).
base::Status namesToLayers(scene::Scene& scene, const std::vector<NamedLink>& links);

// What reads throws nlohmann's exceptions where the form is wrong. Errors: invalid, naming the key.
scene::Floor describedFloor(const nlohmann::json& json, base::Size canvas);
/// {"casts": false}, or a direction, or the foot, top and tip of a shadow, px of the canvas; ranges are not checked.
scene::PlaceLight describedPlaceLight(const nlohmann::json& json);
base::Result<scene::LightContent> describedLight(const nlohmann::json& json, std::string& of, const std::string& where);
base::Result<scene::MaskNumbers> describedMaskNumbers(const nlohmann::json& json, std::string& of, const std::string& where);
struct MadeFill {
  scene::FillContent fill;
  scene::Mask mask;
};
/// The layer's "fill", or its "words" with their shape.
base::Result<MadeFill> describedFill(const nlohmann::json& layer, base::Size canvas,
                                     const std::shared_ptr<image::TileMemory>& memory, const std::string& where);

}  // namespace hseam::store
