#include "core/tasks/gloss.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/findings/specimen.h"
#include "core/image/level.h"
#include "core/image/transfer.h"
#include "core/render/renderer.h"

namespace hseam::tasks {
namespace {

using base::Error;
using base::Rect;
using base::Result;

base::Status validGloss(const GlossOptions& o) {
  const bool ok = o.wide >= 1 && o.wide <= 8 && o.roughnessPx >= 0 && o.roughnessPx <= 200 && o.strength >= 0 && o.strength <= 1;
  return ok ? base::Status() : Error{base::Code::invalid, "", "a gloss lies outside of what it may be"};
}

// The px of the picture that the part covers.
Result<Rect> boundsOfPart(const image::TiledImage& part) {
  Rect out;
  for (int y = 0; y < part.size().height; y += image::kTileSide) {
    const Rect rows = Rect{0, y, part.size().width, image::kTileSide}.intersected(Rect::of(part.size()));
    if (image::isUniformIn(part, rows, 0)) continue;
    HSEAM_TRY(const auto read, image::read8(part, 0, rows));
    for (int v = 0; v < read.height(); ++v) {
      for (int x = 0; x < read.width(); ++x) {
        if (*read.at(x, v) > 127) out = out.united({x, y + v, 1, 1});
      }
    }
  }
  return out;
}

// The surroundings in linear light, as many px as the place has, mirrored and blurred; beyond the canvas its edge goes on.
Result<cv::Mat> mirrored(const scene::Scene& behind, const Rect& place, const GlossOptions& o, base::Executor& executor,
                         const base::Progress& progress) {
  constexpr double kEnough = 4e6;  // px of the surroundings
  const Rect wide{int(std::lround(place.x + place.width / 2.0 - o.wide * place.width / 2)),
                  int(std::lround(place.y + place.height / 2.0 - o.wide * place.height / 2)),
                  std::max(1, int(std::lround(o.wide * place.width))), std::max(1, int(std::lround(o.wide * place.height)))};
  int level = 0;
  while (double(wide.width) * wide.height / std::pow(4.0, level) > kEnough) ++level;
  const Rect asked = wide.coarser(level), there = asked.intersected(Rect::of(render::canvasAt(behind, level)));
  if (there.empty()) return Error{base::Code::invalid, "", "nothing of the scene lies around the part"};
  HSEAM_TRY(const auto colours, render::Renderer().render(behind, there, level, executor, progress.token()));
  cv::Mat seen(asked.height, asked.width, CV_32FC3);
  for (int y = 0; y < asked.height; ++y) {
    for (int x = 0; x < asked.width; ++x) {
      const float* c = colours.at(std::clamp(asked.x + x - there.x, 0, there.width - 1),
                                  std::clamp(asked.y + y - there.y, 0, there.height - 1));
      for (int k = 0; k < 3; ++k) seen.ptr<cv::Vec3f>(y)[x][k] = c[3] > 0 ? float(image::linearFromEncoded(double(c[k]))) : 0;
    }
  }
  cv::Mat out;
  cv::resize(seen, out, {place.width, place.height}, 0, 0, cv::INTER_AREA);
  cv::flip(out, out, o.upsideDown ? 0 : 1);
  if (o.roughnessPx > 0) cv::GaussianBlur(out, out, {}, o.roughnessPx, o.roughnessPx, cv::BORDER_REPLICATE);
  return out;
}

}  // namespace

Result<Gloss> glossed(const scene::Scene& scene, scene::LayerId subject, const image::TiledImage& part,
                      const GlossOptions& options, base::Executor& executor, const base::Progress& progress) {
  const scene::Layer* l = scene::findLayer(scene, subject);
  if (!l) return Error{base::Code::notFound, "", "the layer is gone"};
  if (!l->picture()) return Error{base::Code::invalid, l->name, "is no picture"};
  HSEAM_DO(validGloss(options));
  const scene::PictureContent& p = *l->picture();
  if (part.isNull() || part.size() != p.source.size() || part.format() != image::PixelFormat::grey8)
    return Error{base::Code::conflict, l->name, "what shines does not fit the picture"};
  HSEAM_TRY(const Rect covered, boundsOfPart(part));
  if (covered.empty()) return Error{base::Code::invalid, l->name, "nothing is chosen that shines"};
  const base::Affine toScene = p.placement.toScene(p.source.size());
  const Rect place = base::boundsOf(toScene, covered).intersected(Rect::of(scene.canvas));
  const auto back = toScene.inverse();
  if (place.empty() || !back) return Error{base::Code::invalid, l->name, "what shines lies outside of the canvas"};
  HSEAM_TRY(const cv::Mat light, mirrored(findings::behind(scene, subject), place, options, executor, progress));
  image::Raster<std::uint8_t> colours(place.width, place.height, 4);
  HSEAM_TRY(const auto shines, image::read8(part, 0, covered));
  for (int y = 0; y < place.height; ++y) {
    for (int x = 0; x < place.width; ++x) {
      for (int k = 0; k < 3; ++k)
        colours.at(x, y)[k] = std::uint8_t(
            std::lround(255 * std::clamp(image::encodedFromLinear(double(light.ptr<cv::Vec3f>(y)[x][k])), 0.0, 1.0)));
      const base::Point at = back->map({place.x + x + 0.5, place.y + y + 0.5});
      const int u = int(std::floor(at.x)) - covered.x, v = int(std::floor(at.y)) - covered.y;
      colours.at(x, y)[3] = u >= 0 && v >= 0 && u < covered.width && v < covered.height ? *shines.at(u, v) : 0;
    }
  }
  const auto memory = p.source.memory();
  Gloss out;
  out.layer = scene::freeId(scene);
  scene::Layer made;
  made.id = out.layer;
  made.name = "gloss of " + l->name;
  made.clip = true;
  made.mode = scene::BlendMode::screen;
  made.opacity = options.strength;
  scene::PictureContent content;
  HSEAM_TRY(content.source, image::tiledFromRaster(colours, image::PixelFormat::rgba8, memory, executor));
  content.byHand = true;
  content.placement.x = place.x;
  content.placement.y = place.y;
  made.content = std::move(content);
  const auto at = scene::positionOf(scene, subject);
  const scene::Layer* parent = scene::findLayer(scene, at->parent);
  const auto& list = parent ? parent->group()->layers : scene.layers;
  auto index = std::size_t(at->index) + 1;
  while (index < list.size() && list[index]->clip) ++index;
  out.edit = {"gloss of " + l->name, {{scene::AddLayer{std::move(made), at->parent, int(index)}}}};
  return out;
}

}  // namespace hseam::tasks
