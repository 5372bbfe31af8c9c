#pragma once

#include <string>
#include <string_view>

namespace hseam::base {

/// Text for HTML, in an element or an attribute: & < > and quotes as entities.
std::string htmlText(std::string_view text);

}  // namespace hseam::base
