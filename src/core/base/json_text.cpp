#include "core/base/json_text.h"

#include <nlohmann/json.hpp>

namespace hseam::base {

std::string jsonText(const nlohmann::json& json, int indent) {
  return json.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

}  // namespace hseam::base
