#pragma once
// Outlines under a non-affine map.

#include <functional>

#include "core/path/path.h"

namespace hseam::path {

/// The path as the map takes its curves: every segment becomes cubics that touch the mapped curve at their ends and leave it by
/// no more than `tolerancePx` at the quarters between; corners stay corners, what was smooth stays smooth where the map is.
Path bent(const Path& path, const std::function<base::Point(base::Point)>& map, double tolerancePx);

}  // namespace hseam::path
