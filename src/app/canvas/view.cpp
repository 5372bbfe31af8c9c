#include "app/canvas/view.h"

#include <algorithm>
#include <cmath>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/measure/maps.h"
#include "core/render/inverse_warp.h"
#include "core/render/rows.h"
#include "core/scene/edit.h"

namespace hseam::app {
namespace {

using scene::Layer;
using scene::Scene;

constexpr double kGhost = 0.5, kGhostOfSource = 0.3;

// Ghosts at half strength, and the layer whose difference is looked at.
std::vector<scene::LayerRef> seenThrough(const std::vector<scene::LayerRef>& layers, const View& view) {
  std::vector<scene::LayerRef> out = layers;
  for (scene::LayerRef& l : out) {
    const bool ghost = std::find(view.ghosts.begin(), view.ghosts.end(), l->id) != view.ghosts.end(),
               differs = l->id == view.differenceOf;
    if (!ghost && !differs && !l->group()) continue;
    Layer copy = *l;
    if (ghost) copy.opacity *= kGhost;
    if (differs) copy.mode = scene::BlendMode::difference, copy.opacity = 1;
    if (auto* g = std::get_if<scene::GroupContent>(&copy.content)) g->layers = seenThrough(g->layers, view);
    l = std::make_shared<const Layer>(std::move(copy));
  }
  return out;
}

// The mask as a picture of its own: white where it shows, black where not.
Scene maskScene(const Layer& layer, const scene::PictureContent& picture) {
  Scene s;
  s.canvas = picture.source.size();
  const auto flat = [&](std::uint64_t id, std::uint8_t grey) {
    const std::array<std::byte, 3> value{std::byte{grey}, std::byte{grey}, std::byte{grey}};
    Layer l;
    l.id = {id};
    scene::PictureContent content;
    content.source = image::TiledImage::uniform(s.canvas, image::PixelFormat::rgb8, value, picture.source.memory());
    l.content = std::move(content);
    return l;
  };
  // Coverage is shown as it is, not as light.
  s.mixing = scene::Mixing::encoded;
  Layer white = flat(2, 255);
  white.mask.coverage = layer.mask.coverage;
  s.layers = {std::make_shared<const Layer>(flat(1, 0)), std::make_shared<const Layer>(std::move(white))};
  return s;
}

float woven(int x, int y) {
  // Over and under: threads of four px, lighter where they lie on top.
  const int cell = ((x >> 2) + (y >> 2)) & 1, along = cell ? (y & 3) : (x & 3);
  constexpr float kAcross[4] = {0.40f, 0.47f, 0.47f, 0.40f};
  return kAcross[along] + (cell ? 0.05f : 0.f);
}

// Values flattened and chroma pushed, so that casts show as colours whatever their lightness.
void pushHue(float* c) {
  const float l = 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
  for (int k = 0; k < 3; ++k) c[k] = std::clamp(0.5f + (c[k] - l) * 3.2f / (0.25f + l), 0.f, 1.f);
}

void greyOut(float* c) {
  const float y = 0.2126f * image::fastLinear(c[0]) + 0.7152f * image::fastLinear(c[1]) + 0.0722f * image::fastLinear(c[2]);
  c[0] = c[1] = c[2] = image::fastEncoded(y);
}

// How colourful, as a tone: the largest minus the smallest channel of a pixel.
void saturationOnly(float* c) {
  const float most = std::max({c[0], c[1], c[2]}), least = std::min({c[0], c[1], c[2]});
  c[0] = c[1] = c[2] = most - least;
}

// What is cut off stands out by its pattern, not by colour alone: highlights crossed by dark stripes, shadows by light ones.
void markClipped(float* c, int x, int y) {
  constexpr float kStep = 1.f / 255;
  const bool light = std::max({c[0], c[1], c[2]}) >= 1 - kStep / 2, dark = std::min({c[0], c[1], c[2]}) <= kStep / 2;
  const float grey = 0.25f + 0.5f * (0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2]);
  const bool stripe = ((x + y) & 7) < 4;
  const float shown = light && stripe ? 0.f : (dark && !stripe ? 1.f : grey);
  c[0] = c[1] = c[2] = shown;
}

// Eleven steps of L* from black to white, as a painter squints at values.
void inZones(float* c) {
  greyOut(c);
  const double l = image::labFromEncoded({double(c[0]), double(c[0]), double(c[0])}).l;
  const double y = image::linearFromEncoded(double(c[0]));
  const double step = std::round(l / 10) * 10, wanted = step > 8 ? std::pow((step + 16) / 116, 3) : step / 903.3;
  c[0] = c[1] = c[2] = y <= 0 ? 0.f : float(image::encodedFromLinear(wanted));
}

// From soft (deep blue) to sharp (pale yellow), by lightness as well as by colour.
void focusColour(float share, float grey, float* c) {
  if (share < 0) {
    c[0] = c[1] = c[2] = 0.25f + 0.2f * grey;
    return;
  }
  constexpr float kSoft[3] = {0.10f, 0.16f, 0.45f}, kHalf[3] = {0.45f, 0.55f, 0.50f}, kSharp[3] = {1.0f, 0.95f, 0.65f};
  for (int k = 0; k < 3; ++k)
    c[k] = share < 0.5f ? kSoft[k] + 2 * share * (kHalf[k] - kSoft[k]) : kHalf[k] + (2 * share - 1) * (kSharp[k] - kHalf[k]);
}

// Deuteranopia by Machado, Oliveira, Fernandes 2009 (severity 1), on light.
void withoutGreenCones(float* c) {
  const float r = image::fastLinear(c[0]), g = image::fastLinear(c[1]), b = image::fastLinear(c[2]);
  const auto back = [&](float v) { return image::fastEncoded(std::clamp(v, 0.f, 1.f)); };
  c[0] = back(0.367322f * r + 0.860646f * g - 0.227968f * b);
  c[1] = back(0.280085f * r + 0.672501f * g + 0.047413f * b);
  c[2] = back(-0.011820f * r + 0.042940f * g + 0.968881f * b);
}

}  // namespace

int reachOf(Eyes eyes) {
  return eyes == Eyes::grain || eyes == Eyes::focus ? measure::kMapReach : 0;
}

void differ(image::Raster<float>& pixels, const image::Raster<float>& from, float times) {
  for (std::size_t i = 0; i < pixels.pixels(); ++i) {
    float* c = pixels.samples().data() + 4 * i;
    const float* b = from.samples().data() + 4 * i;
    for (int k = 0; k < 3; ++k) c[k] = std::min(1.f, times * std::abs(c[k] * c[3] - b[k] * b[3]));
    c[3] = 1;
  }
}

void seeAround(image::Raster<float>& pixels, Eyes eyes) {
  const image::Raster<float> map = eyes == Eyes::grain ? measure::grainMap(pixels) : measure::focusMap(pixels);
  for (std::size_t i = 0; i < map.pixels(); ++i) {
    float* c = pixels.samples().data() + 4 * i;
    const float v = map.samples()[i];
    if (eyes == Eyes::grain) {
      c[0] = c[1] = c[2] = v;
    } else {
      focusColour(v, 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2], c);
    }
  }
}

Scene sceneFor(const Scene& scene, const View& view) {
  const Layer* only = view.onlyLayer.value ? scene::findLayer(scene, view.onlyLayer) : nullptr;
  const scene::PictureContent* picture = only ? only->picture() : nullptr;
  if (!picture) {
    if (view.ghosts.empty() && view.differenceOf.value == 0) return scene;
    Scene s = scene;
    s.layers = seenThrough(scene.layers, view);
    return s;
  }
  if (view.maskAlone && !only->mask.coverage.isNull()) return maskScene(*only, *picture);
  Scene s;
  s.canvas = picture->source.size();
  s.mixing = scene.mixing;
  Layer cut = *only;
  cut.hidden = cut.clip = false;
  cut.opacity = 1;
  cut.mode = scene::BlendMode::normal;
  auto& content = std::get<scene::PictureContent>(cut.content);
  content.placement = {};
  content.warp = nullptr;  // it is cut as it was taken: what is drawn lands where it is seen
  cut.mask.numbers.heldAt.reset();
  if (view.uncut) cut.mask = {};
  if (view.original || view.uncut) content.cutout.edit().useClean = false;
  s.layers.push_back(std::make_shared<const Layer>(cut));
  if (view.ghostOfSource && cut.mask.acts()) {
    Layer ghost = cut;
    ghost.id.value += 1;
    ghost.mask = {};
    ghost.opacity = kGhostOfSource;
    std::get<scene::PictureContent>(ghost.content).cutout.edit().useClean = false;
    s.layers.push_back(std::make_shared<const Layer>(std::move(ghost)));
  }
  return s;
}

base::Affine layerToShown(const Layer& layer, const View& view) {
  const auto* p = layer.picture();
  if (!p) return {};
  const bool own = view.onlyLayer == layer.id;
  return own ? base::Affine{} : scene::maskToScene(layer);
}

Unbend unbendShown(const Layer& layer, const View& view) {
  const auto* p = layer.picture();
  if (!p || !p->warp || view.onlyLayer == layer.id) return nullptr;
  const auto way = std::make_shared<const render::InverseWarp>(*p->warp, p->source.size());
  return [way](base::Point bent) { return way->at(bent); };
}

void toScreen(const render::Planes& pixels, const base::Rect& part, const View& view, QImage& into, QPoint at) {
  const float flat[3] = {float(view.ground.colour[0]), float(view.ground.colour[1]), float(view.ground.colour[2])};
  const auto byte = [](float v) { return int(std::clamp(v, 0.f, 1.f) * 255.f + 0.5f); };
  for (int y = 0; y < part.height; ++y) {
    auto* line = reinterpret_cast<QRgb*>(into.scanLine(at.y() + y)) + at.x();
    const int from = y * part.width;
    render::packRgb32(pixels, from, part.width, line);
    const float* alpha = pixels.alpha() + from;
    const bool plain = view.eyes == Eyes::plain;
    for (int x = 0; x < part.width; ++x) {
      const float a = alpha[x];
      if (plain && a >= 1) continue;
      float c[3] = {pixels.colour(0)[from + x], pixels.colour(1)[from + x], pixels.colour(2)[from + x]};
      if (a < 1) {
        const float weave = view.ground.kind == Ground::Kind::woven ? woven(part.x + x, part.y + y) : 0;
        for (int k = 0; k < 3; ++k) {
          const float g = view.ground.kind == Ground::Kind::woven ? weave : flat[k];
          c[k] = a <= 0 ? g : image::fastEncoded(a * image::fastLinear(c[k]) + (1 - a) * image::fastLinear(g));
        }
      }
      if (view.eyes == Eyes::grey) greyOut(c);
      if (view.eyes == Eyes::zones) inZones(c);
      if (view.eyes == Eyes::hue) pushHue(c);
      if (view.eyes == Eyes::saturation) saturationOnly(c);
      if (view.eyes == Eyes::clipped) markClipped(c, part.x + x, part.y + y);
      if (view.eyes == Eyes::redGreenBlind) withoutGreenCones(c);
      line[x] = qRgb(byte(c[0]), byte(c[1]), byte(c[2]));
    }
  }
}

QImage toScreen(const image::Raster<float>& pixels, int originX, int originY, const View& view) {
  QImage out(pixels.width(), pixels.height(), QImage::Format_RGB32);
  render::Planes row(pixels.width());
  for (int y = 0; y < pixels.height(); ++y) {
    for (int x = 0; x < pixels.width(); ++x) {
      for (int c = 0; c < 4; ++c) row.colour(c)[x] = pixels.at(x, y)[c];
    }
    toScreen(row, {originX, originY + y, pixels.width(), 1}, view, out, {0, y});
  }
  return out;
}

}  // namespace hseam::app
