#include "core/scene/permission_record.h"

#include <nlohmann/json.hpp>

namespace hseam::scene {

nlohmann::json permissionJson(const Permission& p) {
  return {{"who", p.who}, {"what", p.what}, {"until", p.until}, {"minors", p.minors}, {"nobodySeen", p.nobodySeen}};
}

Permission permissionFrom(const nlohmann::json& j) {
  return {j.value("who", ""), j.value("what", ""), j.value("until", ""), j.value("minors", false), j.value("nobodySeen", false)};
}

}  // namespace hseam::scene
