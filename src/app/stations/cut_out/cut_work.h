#pragma once
// The long work of Cut out, as jobs whose results become Edits.

#include <functional>

#include "app/document/desk.h"
#include "core/matte/whole_cut.h"
#include "core/select/shape.h"

namespace hseam::app {

/// Stands in a painted band for "thinned here" until thinnedBand decides what it is.
inline constexpr std::uint8_t kThinned = 64;

/// Finds the subject inside an outline that was drawn loosely round it, and combines it with the selection.
void snapOutline(Desk& desk, const select::Outline& shape, select::Combine way);
/// The active picture's selection; nothing selected: coverage 0 everywhere. There must be an active picture.
image::TiledImage selectionOrEmpty(Desk& desk);
using Reshape = std::function<base::Result<image::TiledImage>(const image::TiledImage&, base::Executor&)>;
void reshapeSelection(Desk& desk, const Reshape& reshape, const QString& how);
/// Lays a band of one width along the selection.
void layBand(Desk& desk, double widthPx, const std::function<void()>& done);
/// Finds the band from the picture: thin at crisp edges, wide over strands. done is told where the edge lies beyond it.
void findBand(Desk& desk, const std::function<void(std::vector<base::Rect>)>& done);
/// Solves the band; finds one first where there is none.
void solveEdge(Desk& desk, const std::function<void()>& done);
/// Solves a marked stretch of the active picture's finished cut as a kind of edge; reachPx 0: by the kind.
void solveStretch(Desk& desk, const matte::MarkedStretch& mark, matte::EdgeKind as, double reachPx);
/// Where a band was thinned, it becomes what the selection says.
base::Result<image::TiledImage> thinnedBand(const image::TiledImage& painted, const image::TiledImage& selection,
                                            const base::Rect& changed, base::Executor& executor);

}  // namespace hseam::app
