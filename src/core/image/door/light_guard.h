#pragma once

#include <string>

namespace hseam::image::door {

/// Whether an OpenEXR file's header gives an attribute more bytes than the file has. Its library would make room for all of
/// them before it finds out. Files that are no OpenEXR are not malformed.
bool hasMalformedHeader(const std::string& path);

}  // namespace hseam::image::door
