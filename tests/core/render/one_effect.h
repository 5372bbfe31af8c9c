#pragma once
// A picture and one effect on it, and what comes of it as light.

#include "core/image/transfer.h"
#include "scenes.h"

namespace hseam::test {

inline image::TiledImage grey(int w, int h, const std::function<double(int, int)>& f) {
  return picture(w, h, 3, [&](int x, int y, int) { return f(x, y); });
}

inline scene::Layer effect(std::uint64_t id, scene::ParametricAdjustment n, bool confined = false) {
  scene::Layer l = adjustmentLayer(id, std::move(n));
  l.clip = confined;
  return l;
}

inline image::Raster<float> shown(const image::TiledImage& picture, const scene::ParametricAdjustment& n, bool confined = false) {
  scene::Scene s;
  s.canvas = picture.size();
  s.layers = {ref(pictureLayer(1, picture)), ref(effect(2, n, confined))};
  return rendered(s);
}

inline double light(const image::Raster<float>& r, int x, int y, int c = 0) {
  return image::linearFromEncoded(double(r.at(x, y)[c]));
}

}  // namespace hseam::test
