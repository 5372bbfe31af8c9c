#pragma once
// A window with a subject in front of a ground.

#include "app/window.h"

namespace hseam::test {

class TwoPictures : public QObject {
 protected:
  SmallPictures small_;
  void begin(Window& w) { w.open({small_.ground, small_.subject}); }
  /// The ground gives the canvas its size; one page is open.
  void beginWith(Window& w, StationIndex station, const char* page = nullptr) {
    w.workspace().newScene({50, 50});
    begin(w);
    w.goTo(station);
    if (page) w.openPage(page);
  }
  static const scene::Layer& layer(Window& w, const char* name) {
    for (const auto& l : scene::allLayers(w.scene())) {
      if (l->name == name) return *scene::findLayer(w.scene(), l->id);
    }
    qFatal("no layer %s", name);
  }
  static const scene::Placement& placementOf(Window& w, const char* name) { return layer(w, name).picture()->placement; }
};

/// A square of 200 px in the middle of 400 × 320.
inline image::TiledImage disc400(const std::shared_ptr<image::TileMemory>& memory) {
  return must(image::withPixels(image::uniformCoverage({400, 320}, 0, memory), {100, 60, 200, 200},
                                image::Raster<std::uint8_t>(200, 200, 1, 255), here()));
}

}  // namespace hseam::test
