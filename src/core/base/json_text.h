#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>

namespace hseam::base {

/// JSON as text. Never throws: bytes that are not UTF-8 (RFC 3629) become U+FFFD, since texts come from files that others made.
/// indent: spaces a level; −1: one line.
std::string jsonText(const nlohmann::json& json, int indent = -1);

}  // namespace hseam::base
