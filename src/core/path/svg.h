#pragma once
// Paths as SVG 1.1 path data, and as files.

#include <string>

#include "core/base/error.h"
#include "core/path/path.h"

namespace hseam::path {

/// "M 10 20 C … Z", one part for each outline; px with three decimals.
std::string pathData(const Path& path);
/// Every command of SVG 1.1, 8.3 (arcs become cubics). How outlines join is not in path data: all are `add`; where a later one
/// runs the other way round inside an earlier one it takes away, as the even-odd and non-zero rules both have it.
/// Errors: corrupt (with the place of the first character that is not understood), limitExceeded.
base::Result<Path> fromPathData(const std::string& data);

/// A file of width × height px with one path element for each way of joining.
base::Status writeSvg(const std::string& file, const Path& path, base::Size size);
/// All path elements of a file, their `transform` (matrix, translate, scale, rotate) and that of the groups around them applied.
/// Errors: notFound, unreadable, corrupt, limitExceeded.
base::Result<Path> readSvg(const std::string& file);

}  // namespace hseam::path
