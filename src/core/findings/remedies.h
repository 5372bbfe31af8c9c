#pragma once
// What mends a finding, as Edits: an adjustment confined to the layer, a better mask, another place.

#include "core/findings/report.h"
#include "core/scene/adjustment.h"

namespace hseam::findings {

/// An adjustment in front of the layer and of what is confined to it already, confined to it.
Remedy confined(RemedyId id, Words label, scene::LayerId layer, const scene::Adjustment& adjustment);
/// An adjustment of all that lies behind the layer: below it and below the lights and shadows that it casts there.
Remedy ofTheScene(RemedyId id, Words label, scene::LayerId layer, const scene::Adjustment& adjustment);

/// Levels that bring a tone (L*) to another with black or white held still.
scene::Adjustment shadowsTo(double fromL, double toL);
scene::Adjustment highlightsTo(double fromL, double toL);
scene::Adjustment middleTo(double fromL, double toL);
/// Slopes of the channels that take a tint (a* b*, on a grey of L* 60) out.
scene::Adjustment withoutTint(double a, double b);

/// The mask without these pieces (scene px) and with the holes closed.
Remedy withoutLeftovers(scene::LayerId layer, const std::vector<base::Rect>& pieces, const std::vector<base::Rect>& holes);
/// The edge's colours worked out anew from the picture and its alpha.
Remedy cleanEdge(scene::LayerId layer);
/// The edge takes the colours of what lies further in: for crisp edges, whatever lay behind them.
Remedy coloursFromInside(scene::LayerId layer);
/// The mask drawn in by so many px of the picture.
Remedy tighter(scene::LayerId layer, double px);
/// The mask's edge made narrower by so many times.
Remedy crisper(scene::LayerId layer, double times);

}  // namespace hseam::findings
