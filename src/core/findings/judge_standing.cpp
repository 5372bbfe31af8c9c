#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/scene/floor.h"

namespace hseam::findings {

// Where it stands: size by the horizon rule.
void judgeStanding(const Case& c) {
  const auto* p = c.layer.picture();
  if (!p) return;
  const std::string& name = c.layer.name;
  const base::Rect b = c.specimen.bounds;
  const bool cutOff = b.bottom() >= c.scene.canvas.height - 1;
  {
    Verdict v = c.begin(KindId::groundSize);
    if (!c.scene.floor || p->realHeightM <= 0) {
      v.reason = Says::sizeUnknown;
    } else if (cutOff) {
      v.reason = Says::footCutOff;
    } else {
      const base::Point foot{b.x + b.width / 2.0, double(b.bottom())};
      const auto right = scene::heightAtFoot(scene::FloorCamera(*c.scene.floor, c.scene.canvas), foot, p->realHeightM);
      if (!right) {
        v.reason = Says::aboveHorizon;
      } else {
        v.available = true;
        v.reading = 100 * (b.height / *right - 1);
        v.excess = std::abs(v.reading) / v.tolerance;
        if (v.out()) {
          v.sentence = {v.reading > 0 ? Says::tooLarge : Says::tooSmall,
                        name,
                        Figure{std::abs(v.reading), 0},
                        Figure{p->realHeightM, 2},
                        Figure{*right, 0},
                        b.height};
          const double k = *right / b.height;
          const scene::LayerId id = c.layer.id;
          v.remedies.push_back({RemedyId::standRight,
                                {Says::scaleIt, Figure{100 * k, 0}},
                                [id, k, foot](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
                                  const scene::Layer* l = scene::findLayer(s, id);
                                  if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
                                  scene::Placement at = l->picture()->placement;
                                  const base::Size size = l->picture()->source.size();
                                  const double cx = at.x + at.scale * size.width / 2, cy = at.y + at.scale * size.height / 2;
                                  const double nx = foot.x + k * (cx - foot.x), ny = foot.y + k * (cy - foot.y);
                                  at.scale *= k;
                                  at.x = nx - at.scale * size.width / 2;
                                  at.y = ny - at.scale * size.height / 2;
                                  return scene::Edit(scene::SetPlacement{id, at});
                                }});
        }
      }
    }
    c.add(std::move(v));
  }
  {
    // Its own horizon and the scene's: the camera's height in heights of the subject.
    Verdict v = c.begin(KindId::cameraHeight);
    if (!c.scene.floor || !p->horizonY) {
      v.reason = Says::horizonUnknown;
    } else if (cutOff || b.empty()) {
      v.reason = Says::footCutOff;
    } else {
      const base::Size size = p->source.size();
      const double own = p->placement.toScene(size).map({size.width / 2.0, *p->horizonY}).y;
      const double should = c.scene.floor->horizonY +
                            std::tan(c.scene.floor->tiltDeg * M_PI / 180) * (b.x + b.width / 2.0 - c.scene.canvas.width / 2.0);
      v.available = true;
      v.reading = 100 * (should - own) / b.height;
      v.excess = std::abs(v.reading) / v.tolerance;
      if (v.out()) {
        v.sentence = {v.reading > 0 ? Says::takenFromHigher : Says::takenFromLower, name, Figure{std::abs(v.reading), 0}};
        const scene::LayerId id = c.layer.id;
        const double by = should - own;
        v.remedies.push_back({RemedyId::meetHorizons, Says::meetHorizons,
                              [id, by](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
                                const scene::Layer* l = scene::findLayer(s, id);
                                if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
                                scene::Placement at = l->picture()->placement;
                                at.y += by;
                                return scene::Edit(scene::SetPlacement{id, at});
                              }});
      }
    }
    c.add(std::move(v));
  }
}

}  // namespace hseam::findings
