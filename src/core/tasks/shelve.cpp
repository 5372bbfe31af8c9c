#include "core/tasks/shelve.h"

#include <cmath>
#include <filesystem>

#include "core/measure/sharpness.h"
#include "core/measure/tones.h"
#include "core/scene/floor.h"
#include "core/tasks/colours.h"
#include "core/tasks/place.h"

namespace hseam::tasks {
namespace {

using base::Error;
using base::Result;

// Of the place, else of a shadow that is cast or a form that is shaded: the first one's.
std::optional<std::pair<double, double>> lightSetIn(const scene::Scene& s) {
  if (const auto from = scene::lightOf(s)) return std::pair(from->azimuthDeg, from->elevationDeg);
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (l->hidden || !l->light()) continue;
    if (const auto* cast = std::get_if<scene::CastShadow>(&l->light()->kind))
      return std::pair(cast->light.azimuthDeg, cast->light.elevationDeg);
    if (const auto* shading = std::get_if<scene::Shading>(&l->light()->kind))
      return std::pair(shading->light.azimuthDeg, shading->light.elevationDeg);
  }
  return std::nullopt;
}

std::optional<double> horizonOf(const scene::Scene& s, const scene::PictureContent& p) {
  if (p.horizonY) return p.horizonY;
  if (!s.floor || p.warp || p.placement.rotationDeg != 0 || s.floor->tiltDeg != 0) return std::nullopt;
  const auto back = p.placement.toScene(p.source.size()).inverse();
  if (!back) return std::nullopt;
  return back->map({s.canvas.width / 2.0, s.floor->horizonY}).y;
}

}  // namespace

Result<store::ShelfItem> shelfItemOf(const scene::Scene& scene, scene::LayerId layer, store::ShelfKind kind,
                                     const std::string& name) {
  const scene::Layer* l = scene::findLayer(scene, layer);
  if (!l || !l->picture()) return Error{base::Code::notFound, l ? l->name : "", "there is no picture for the shelf"};
  const scene::PictureContent& p = *l->picture();
  store::ShelfItem item;
  item.name = name;
  item.kind = kind;
  item.width = p.source.size().width;
  item.height = p.source.size().height;
  item.horizonY = horizonOf(scene, p);
  item.lightFromDeg = lightSetIn(scene);
  item.permission = p.permission;
  constexpr double kEnough = 4e6;
  const int level = levelWithin(p.source, kEnough);
  HSEAM_TRY(const image::Raster<float> colours, coloursOf(p.source, level));
  const auto inside = measure::inside(colours, 0.98f, 0);
  const measure::Part part{colours, inside};
  const measure::Reading blur = measure::sharpnessOf(part).typical;
  if (blur.available) item.blurPx = blur.value * (1 << level);
  const measure::Tones tones = measure::tonesOf(measure::populationOf(part, 1));
  if (tones.mid.available) item.midL = tones.mid.value;
  const measure::Cast light = measure::illuminantOf(part);
  if (light.available) item.light = {light.a, light.b};
  return item;
}

scene::Several fromShelf(const scene::Scene& scene, const store::ShelfItem& item, const image::TiledImage& picture,
                         const std::string& sourceHash, const image::Metadata& about) {
  PlaceOptions how;
  how.name = item.name;
  how.sourceName = std::filesystem::path(item.file).filename().string();
  how.sourceHash = sourceHash;
  how.about = about;
  how.horizonY = item.horizonY;
  how.permission = item.permission;
  return placed(scene, picture, how);
}

Result<BackgroundChange> changeBackgroundFromShelf(const scene::Scene& scene, scene::LayerId subject,
                                                   const store::ShelfItem& item, const image::TiledImage& picture,
                                                   const std::string& sourceHash, const BackgroundOptions& options,
                                                   base::Executor& executor, const base::Progress& progress) {
  const scene::Several in = fromShelf(scene, item, picture, sourceHash, {});
  HSEAM_TRY(const scene::Scene with, scene::apply(scene, in));
  const scene::LayerId background = with.layers.back()->id;
  HSEAM_TRY(BackgroundChange out, changeBackground(with, subject, background, options, executor, progress));
  out.edit.edits.insert(out.edit.edits.begin(), in.edits.begin(), in.edits.end());
  if (item.horizonY && !scene.floor) {
    HSEAM_TRY(const scene::Scene then, scene::apply(scene, out.edit));
    const scene::PictureContent& p = *scene::findLayer(then, background)->picture();
    scene::Floor floor = scene::usualFloor(then.canvas);
    floor.horizonY = p.placement.toScene(p.source.size()).map({p.source.size().width / 2.0, *item.horizonY}).y;
    out.edit.edits.push_back({scene::SetFloor{floor}});
  }
  if (item.lightFromDeg && !scene.light) {
    scene::PlaceLight light;
    light.from.azimuthDeg = item.lightFromDeg->first;
    light.from.elevationDeg = item.lightFromDeg->second;
    out.edit.edits.push_back({scene::SetPlaceLight{light}});
  }
  return out;
}

}  // namespace hseam::tasks
