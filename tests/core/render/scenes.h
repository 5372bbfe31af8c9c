#pragma once
// Scenes for the renderer's tests.

#include "core/render/renderer.h"
#include "core/scene/edit.h"
#include "pictures.h"

namespace hseam::test {

inline scene::Layer pictureLayer(std::uint64_t id, const image::TiledImage& source, double x = 0, double y = 0) {
  scene::Layer l;
  l.id = {id};
  l.name = "layer " + std::to_string(id);
  scene::PictureContent p;
  p.source = source;
  p.placement.x = x;
  p.placement.y = y;
  l.content = std::move(p);
  return l;
}
inline scene::Layer adjustmentLayer(std::uint64_t id, const scene::Adjustment& a) {
  scene::Layer l;
  l.id = {id};
  l.name = "adjustment " + std::to_string(id);
  l.content = scene::AdjustmentContent{a};
  return l;
}
inline scene::LayerRef ref(scene::Layer l) {
  return std::make_shared<const scene::Layer>(std::move(l));
}

/// One picture that fills the canvas.
inline scene::Scene sceneOf(const image::TiledImage& picture) {
  scene::Scene s;
  s.canvas = picture.size();
  s.layers = {ref(pictureLayer(1, picture))};
  return s;
}

inline image::Raster<float> rendered(const scene::Scene& s, int level = 0) {
  render::Renderer renderer;
  return must(renderer.render(s, base::Rect::of(render::canvasAt(s, level)), level, here()));
}

/// Smooth colours with some texture, different for each seed.
inline image::TiledImage colours(int w, int h, int seed, int channels = 3) {
  return picture(w, h, channels, [=](int x, int y, int c) {
    if (c == 3) return 255.0 * std::clamp((x + seed * 3 % 40) / double(w), 0.0, 1.0);
    return 128 + 100 * std::sin((x * (c + 1) + y * (seed % 5 + 1)) / 17.0 + seed) + (x * 7 + y * 11 + seed) % 20;
  });
}
/// A soft disc.
inline image::TiledImage disc(int w, int h, double soft = 20) {
  return picture(w, h, 1, [=](int x, int y, int) {
    return 255 * std::clamp((std::min(w, h) * 0.4 - std::hypot(x - w / 2.0, y - h / 2.0)) / soft + 0.5, 0.0, 1.0);
  });
}

/// Three pictures, a confined curve with half a mask, a group with its own mask and a mode, a balance over all.
inline scene::Scene richScene(int w, int h, scene::Mixing mixing) {
  scene::Scene s;
  s.canvas = {w, h};
  s.mixing = mixing;
  scene::Layer front = pictureLayer(2, colours(w / 2, h / 2, 5), 20, 13);
  front.mask.coverage = disc(w / 2, h / 2);
  front.opacity = 0.8;
  scene::Layer curve = adjustmentLayer(3, scene::Curves{{{0, 0.1}, {0.4, 0.6}, {1, 0.9}}, {{0, 0}, {1, 0.8}}, {}, {}});
  curve.clip = true;
  curve.mask.coverage = picture(w, h, 1, [=](int x, int, int) { return 255.0 * x / w; });
  scene::Layer inner = pictureLayer(5, colours(w, h, 9, 4));
  inner.mode = scene::BlendMode::softLight;
  inner.opacity = 0.7;
  scene::Layer group;
  group.id = {4};
  group.name = "group";
  group.mode = scene::BlendMode::multiply;
  group.opacity = 0.9;
  group.mask.coverage = disc(w, h, 60);
  group.content = scene::GroupContent{{ref(pictureLayer(6, colours(w / 3, h / 3, 2), 5, 40)), ref(inner)}};
  scene::Layer balance = adjustmentLayer(7, scene::ColourBalance{{0.4, -0.3}, {-0.2, 0.5}, {0.6, 0.6}});
  balance.opacity = 0.75;
  s.layers = {ref(pictureLayer(1, colours(w, h, 1))), ref(front), ref(curve), ref(group), ref(balance)};
  return s;
}

}  // namespace hseam::test
