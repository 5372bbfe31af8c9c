#include "app/stations/match/merged_copy.h"

#include "core/deliver/merged.h"
#include "core/scene/permission.h"
#include "core/scene/up_to.h"

namespace hseam::app {

void mergedSoFar(Session& session, Messages& messages, Lane& jobs) {
  const scene::Scene& s = session.scene();
  // Within a group it is the group that is merged up to.
  scene::LayerId id = session.active();
  auto at = scene::positionOf(s, id);
  while (at && at->parent.value != 0) {
    id = at->parent;
    at = scene::positionOf(s, id);
  }
  if (!at) {
    emit messages.said(QObject::tr("Choose the layer up to which the scene is merged"));
    return;
  }
  const scene::Scene upTo = scene::upTo(s, id);
  // What is confined to the layer belongs to it.
  std::size_t end = std::size_t(at->index) + 1;
  while (end < s.layers.size() && s.layers[end]->clip) ++end;
  jobs.start<image::TiledImage>(
      QObject::tr("Merge what is there so far"),
      [upTo, memory = session.memory()](base::Executor& e, const base::Progress& progress) {
        return deliver::merged(upTo, base::Rect::of(upTo.canvas), memory, e, progress);
      },
      [&session, &messages, end, permission = scene::combinedPermission(upTo)](const image::TiledImage& made) {
        scene::Layer l;
        l.id = scene::freeId(session.scene());
        l.name = "merged so far";
        scene::PictureContent p;
        p.source = made;
        p.sourceName = "merged so far";
        p.permission = permission;
        l.content = std::move(p);
        session.apply(scene::AddLayer{std::move(l), {}, int(end)});
      });
}

}  // namespace hseam::app
