#include "app/stations/other_pictures.h"

#include <QComboBox>

namespace hseam::app {

void listOtherPictures(QComboBox& box, Session& session) {
  const QVariant chosen = box.currentData();
  box.clear();
  const scene::Layer* active = session.activeLayer();
  if (!active || !active->picture()) return;
  for (const scene::LayerRef& l : scene::allLayers(session.scene())) {
    if (l->id == active->id || !l->picture() || l->picture()->byHand) continue;
    box.addItem(QString::fromStdString(l->name), QVariant::fromValue(qulonglong(l->id.value)));
  }
  if (const int at = box.findData(chosen); at >= 0) box.setCurrentIndex(at);
}

}  // namespace hseam::app
