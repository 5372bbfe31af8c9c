#include "app/stations/other_pictures.h"

#include <QComboBox>

namespace hseam::app {

void listOtherPictures(QComboBox& box, const Desk& desk) {
  const QVariant chosen = box.currentData();
  box.clear();
  const scene::Layer* active = desk.session.activeLayer();
  if (!active || !active->picture()) return;
  for (const scene::LayerRef& l : scene::allLayers(desk.session.scene())) {
    if (l->id == active->id || !l->picture() || l->picture()->byHand) continue;
    box.addItem(QString::fromStdString(l->name), QVariant::fromValue(qulonglong(l->id.value)));
  }
  if (const int at = box.findData(chosen); at >= 0) box.setCurrentIndex(at);
}

}  // namespace hseam::app
