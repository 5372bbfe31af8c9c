#pragma once
// Makes remedies: an adjustment confined to the layer, a better mask, another place.

#include "core/findings/report.h"
#include "core/scene/adjustment.h"

namespace hseam::findings {

/// An adjustment confined to the layer, above what is confined to it already.
Remedy confined(RemedyId id, Words label, scene::LayerId layer, const scene::Adjustment& adjustment);
/// An adjustment of all that lies behind the layer: below it and below the lights and shadows that it casts there.
Remedy ofTheScene(RemedyId id, Words label, scene::LayerId layer, const scene::Adjustment& adjustment);

/// Levels that move one tone (L*) to another; the opposite end of the scale stays.
scene::Adjustment shadowsTo(double fromL, double toL);
scene::Adjustment highlightsTo(double fromL, double toL);
scene::Adjustment middleTo(double fromL, double toL);
/// Channel gains that neutralise a tint (a* b*, of a grey of L* 60).
scene::Adjustment withoutTint(double a, double b);

/// The mask without these pieces (scene px) and with the holes closed.
Remedy withoutLeftovers(scene::LayerId layer, const std::vector<base::Rect>& pieces, const std::vector<base::Rect>& holes);
/// Estimates the edge's colours again from the picture and its alpha.
Remedy cleanEdge(scene::LayerId layer);
/// Spreads colours from further inside over the edge; for crisp edges.
Remedy coloursFromInside(scene::LayerId layer);
/// Contracts the mask by px of the picture.
Remedy tighter(scene::LayerId layer, double px);
/// Makes the mask's edge narrower by this factor.
Remedy crisper(scene::LayerId layer, double times);

}  // namespace hseam::findings
