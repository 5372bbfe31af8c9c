#include "app/stations/match/merged_copy.h"

#include "core/deliver/merged.h"
#include "core/scene/permission.h"
#include "core/scene/up_to.h"

namespace hseam::app {

void mergedSoFar(Desk& desk) {
  const scene::Scene& s = desk.session.scene();
  // Within a group it is the group that is merged up to.
  scene::LayerId id = desk.session.active();
  auto at = scene::positionOf(s, id);
  while (at && at->parent.value != 0) {
    id = at->parent;
    at = scene::positionOf(s, id);
  }
  if (!at) {
    emit desk.messages.said(QObject::tr("Choose the layer up to which the scene is merged"));
    return;
  }
  const scene::Scene upTo = scene::upTo(s, id);
  // What is confined to the layer belongs to it.
  std::size_t end = std::size_t(at->index) + 1;
  while (end < s.layers.size() && s.layers[end]->clip) ++end;
  desk.jobs.start<image::TiledImage>(
      QObject::tr("Merge what is there so far"),
      [upTo, memory = desk.session.memory()](base::Executor& e, const base::Progress& progress) {
        return deliver::merged(upTo, base::Rect::of(upTo.canvas), memory, e, progress);
      },
      [&desk, end, permission = scene::combinedPermission(upTo)](const image::TiledImage& made) {
        scene::Layer l;
        l.id = scene::freeId(desk.session.scene());
        l.name = "merged so far";
        scene::PictureContent p;
        p.source = made;
        p.sourceName = "merged so far";
        p.permission = permission;
        l.content = std::move(p);
        desk.session.apply(scene::AddLayer{std::move(l), {}, int(end)});
      });
}

}  // namespace hseam::app
