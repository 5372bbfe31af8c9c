#pragma once

#include <string>

namespace hseam::image::door {

/// Whether an OpenEXR header declares an attribute longer than the file, which its library would allocate before noticing. False
/// for files of other kinds.
bool hasMalformedHeader(const std::string& path);

}  // namespace hseam::image::door
