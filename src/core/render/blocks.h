#pragma once
// The renderer's fixed grid on a level: results do not depend on how an area was split.

namespace hseam::render {

/// Px of the level: what one thread paints at a time.
inline constexpr int kBlockSide = 256;
/// Small enough that all planes of a strip stay in the second-level cache.
inline constexpr int kStripRows = 32;

}  // namespace hseam::render
