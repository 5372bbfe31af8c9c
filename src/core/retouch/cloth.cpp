#include "core/retouch/cloth.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/transfer.h"
#include "core/matte/foreground.h"
#include "core/paint/colour_stroke.h"
#include "core/render/renderer.h"
#include "core/retouch/filled_around.h"
#include "core/retouch/light_under.h"
#include "core/scene/up_to.h"

namespace hseam::retouch {
namespace {

using base::Code;
using base::Error;
using base::Point;
using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;

constexpr float kLeastLight = 2e-3f;
constexpr int kSlopeSide = 700;     // px of the longer side of what lies behind a mark, where its slope is read
constexpr int kCrossings = 16;      // of the grid, each way
constexpr double kMostShade = 1.6;  // natural logarithm

float luminanceOf(const float* light) {
  return 0.2126f * light[0] + 0.7152f * light[1] + 0.0722f * light[2];
}

Raster<float> lightOf(const Raster<float>& rgba) {
  Raster<float> out(rgba.width(), rgba.height(), 3);
  for (std::size_t i = 0; i < rgba.pixels(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) out.samples()[i * 3 + c] = image::fastLinear(rgba.samples()[i * 4 + c]);
  }
  return out;
}

// What a scene shows behind a layer, as shading: the logarithm of its light about its mean under the layer, without its weave.
struct Shading {
  cv::Mat shade;  // CV_32F, 0 where nothing shows
  Rect area;      // px of the level
  int level = 0;

  // px of the level's area, at the middle of its px.
  Point on(Point scenePx) const {
    const double k = 1.0 / (1 << level);
    return {scenePx.x * k - area.x - 0.5, scenePx.y * k - area.y - 0.5};
  }
  double at(Point scenePx) const {
    const Point p = on(scenePx);
    const double u = std::clamp(p.x, 0.0, shade.cols - 1.0), v = std::clamp(p.y, 0.0, shade.rows - 1.0);
    const int x = std::min(int(u), shade.cols - 2), y = std::min(int(v), shade.rows - 2);
    if (x < 0 || y < 0) return 0;
    const double fx = u - x, fy = v - y;
    const auto s = [&](int i, int j) { return double(shade.at<float>(y + j, x + i)); };
    return (1 - fy) * ((1 - fx) * s(0, 0) + fx * s(1, 0)) + fy * ((1 - fx) * s(0, 1) + fx * s(1, 1));
  }
};

Result<Shading> shadingBehind(const scene::Scene& scene, const scene::Layer& mark, double softPx, base::Executor& executor,
                              const base::Progress& progress) {
  HSEAM_TRY(const scene::Scene behind, scene::apply(scene::upTo(scene, mark.id), scene::SetHidden{mark.id, true}));
  // As it lies without the bend of an earlier laying, so that laying it again reads the same.
  scene::Layer flat = mark;
  auto p = *flat.picture();
  if (p.warp) {
    scene::Warp held = *p.warp;
    held.columns.clear(), held.rows.clear(), held.grid.clear();
    p.warp = held.neutral() ? nullptr : std::make_shared<const scene::Warp>(std::move(held));
    flat.content = std::move(p);
  }
  const Rect bounds = scene::boundsOf(scene, flat).intersected(Rect::of(scene.canvas));
  if (bounds.empty()) return Error{Code::invalid, mark.name, "it does not lie on the canvas"};
  Shading out;
  while (std::max(bounds.width, bounds.height) >> out.level > kSlopeSide) ++out.level;
  const int k = 1 << out.level, around = int(3 * softPx / k) + 2;
  const base::Size canvas = render::canvasAt(scene, out.level);
  out.area =
      Rect{bounds.x / k, bounds.y / k, bounds.width / k + 1, bounds.height / k + 1}.grown(around).intersected(Rect::of(canvas));
  render::Renderer renderer;
  HSEAM_TRY(const Raster<float> shown, renderer.render(behind, out.area, out.level, executor, progress.token()));
  cv::Mat sum(shown.height(), shown.width(), CV_32F), weight(sum.size(), CV_32F);
  for (std::size_t i = 0; i < shown.pixels(); ++i) {
    const float* c = shown.samples().data() + 4 * i;
    const float light[3] = {image::fastLinear(c[0]), image::fastLinear(c[1]), image::fastLinear(c[2])};
    weight.ptr<float>()[i] = c[3];
    sum.ptr<float>()[i] = c[3] * std::log(luminanceOf(light) + kLeastLight);
  }
  if (cv::sum(weight)[0] < 0.05 * double(weight.total())) return Error{Code::invalid, mark.name, "nothing shows behind it"};
  const double mean = cv::sum(sum)[0] / cv::sum(weight)[0];
  if (const double sigma = softPx / k; sigma > 0.3) {
    cv::GaussianBlur(sum, sum, {}, sigma);
    cv::GaussianBlur(weight, weight, {}, sigma);
  }
  out.shade = cv::Mat(sum.size(), CV_32F, cv::Scalar(0));
  for (int i = 0; i < int(sum.total()); ++i) {
    const float w = weight.ptr<float>()[i];
    if (w > 1e-3f) out.shade.ptr<float>()[i] = float(std::clamp(double(sum.ptr<float>()[i] / w) - mean, -kMostShade, kMostShade));
  }
  return out;
}

// The grid of a warp bent along the slope; the most it moves a place, scene px.
double bend(const Shading& shading, const scene::PictureContent& p, double depthPx, scene::Warp& warp) {
  const base::Size size = p.source.size();
  warp.columns.clear(), warp.rows.clear(), warp.grid.clear();
  if (depthPx <= 0) return 0;
  cv::Mat dx, dy, steep;
  const double k = 1 << shading.level;
  // A grid of so few lines can follow nothing finer.
  cv::Mat smooth;
  cv::GaussianBlur(shading.shade, smooth, {},
                   std::max(1.0, std::max(shading.shade.cols, shading.shade.rows) / (3.0 * kCrossings)));
  cv::Sobel(smooth, dx, CV_32F, 1, 0, 3, 1 / (8 * k));
  cv::Sobel(smooth, dy, CV_32F, 0, 1, 3, 1 / (8 * k));
  cv::magnitude(dx, dy, steep);
  double steepest = 0;
  cv::minMaxLoc(steep, nullptr, &steepest);
  // Under a hundredth of a stop a px there is no fold.
  if (steepest < 5e-4) return 0;
  warp = scene::withGrid(std::move(warp), size, kCrossings - 1, kCrossings - 1);
  const base::Affine toScene = p.placement.toScene(size), back = *toScene.inverse();  // a placement has a scale
  double most = 0;
  for (Point& crossing : warp.grid) {
    const Point there = toScene.map(crossing), on = shading.on(there);
    const int x = std::clamp(int(std::lround(on.x)), 0, dx.cols - 1), y = std::clamp(int(std::lround(on.y)), 0, dx.rows - 1);
    const double mx = -depthPx * double(dx.at<float>(y, x)) / steepest, my = -depthPx * double(dy.at<float>(y, x)) / steepest;
    crossing = back.map({there.x + mx, there.y + my});
    most = std::max(most, std::hypot(mx, my));
  }
  return most;
}

// The picture's colours in that light.
Result<TiledImage> shaded(const TiledImage& colours, const scene::PictureContent& p, const scene::Warp& warp,
                          const Shading& shading, double share, base::Executor& executor, const base::Progress& progress,
                          std::vector<float>& taken) {
  const base::Size size = colours.size();
  const base::Affine toScene = p.placement.toScene(size);
  const scene::WarpMap map(warp, size);
  const auto channels = std::size_t(image::channelsOf(colours.format())), colour = std::min<std::size_t>(3, channels);
  return image::tiledFromRows(
      size, colours.format(), colours.memory(), executor, progress, [&](int first, int count, std::byte* rows) -> base::Status {
        HSEAM_TRY(const Raster<float> read, image::readFloat(colours, 0, {0, first, size.width, count}));
        std::vector<float> shades(read.pixels());
        executor.forEach(count, [&](int y) {
          for (int x = 0; x < size.width; ++x) {
            const Point at = toScene.map(map({x + 0.5, first + y + 0.5}));
            const std::size_t i = std::size_t(y) * std::size_t(size.width) + std::size_t(x);
            shades[i] = float(share * shading.at(at));
            const float gain = std::exp(shades[i]);
            for (std::size_t c = 0; c < channels; ++c) {
              const float own = read.samples()[i * channels + c];
              const float v = c < colour ? image::fastEncoded(image::fastLinear(own) * gain) : own;
              if (image::isWide(colours.format())) {
                reinterpret_cast<std::uint16_t*>(rows)[i * channels + c] = image::wholeOf<std::uint16_t>(v * 65535);
              } else {
                reinterpret_cast<std::uint8_t*>(rows)[i * channels + c] = image::wholeOf<std::uint8_t>(v * 255);
              }
            }
          }
        });
        for (std::size_t i = 0; i < shades.size(); i += 7) taken.push_back(shades[i]);
        return {};
      });
}

}  // namespace

Result<TiledImage> markTakenOff(const Stroke& s, const scene::Scene& under, std::uint32_t seed, base::Executor& executor,
                                const base::Progress& progress) {
  if (s.touched.intersected(Rect::of(s.before.size())).empty()) return s.before;
  HSEAM_TRY(FilledAround made, filledAround(s, under, seed, executor, progress.part(0, 0.8)));
  const LightUnder there = lightUnder(lightOf(made.shown), made.coverage);
  const Raster<float> filled = lightOf(made.filled);
  // The fill keeps what is finer than folds; its light becomes the one that lies there, as far as that is known.
  cv::Mat own(filled.height(), filled.width(), CV_32F);
  for (std::size_t i = 0; i < filled.pixels(); ++i)
    own.ptr<float>()[i] = std::log(luminanceOf(filled.samples().data() + 3 * i) + kLeastLight);
  cv::GaussianBlur(own, own, {}, std::max(2.0, std::max(s.touched.width, s.touched.height) / 50.0));
  for (std::size_t i = 0; i < filled.pixels(); ++i) {
    if (made.coverage.samples()[i] == 0) continue;
    const float gain = std::exp(there.known.samples()[i] * (there.light.samples()[i] - own.ptr<float>()[i]));
    for (std::size_t c = 0; c < 3; ++c) made.filled.samples()[i * 4 + c] = image::fastEncoded(filled.samples()[i * 3 + c] * gain);
  }
  return paint::laidOn(s.before, s.before, s.coverage, made.filled, made.area, executor);
}

Result<LaidOnCloth> laidOnCloth(const scene::Scene& scene, scene::LayerId id, const ClothOptions& options,
                                base::Executor& executor, const base::Progress& progress) {
  const scene::Layer* l = scene::findLayer(scene, id);
  if (!l) return Error{Code::notFound, "", "the layer is gone"};
  if (!l->picture() || l->picture()->byHand) return Error{Code::invalid, l->name, "only a picture is laid on cloth"};
  const scene::PictureContent& p = *l->picture();
  HSEAM_TRY(const Shading shading, shadingBehind(scene, *l, options.softPx, executor, progress.part(0, 0.4)));
  LaidOnCloth out;
  scene::Warp warp = p.warp ? *p.warp : scene::Warp{};
  out.movedPx = bend(shading, p, options.depthPx, warp);
  TiledImage colours = p.source;
  if (!p.cutout->alpha.isNull()) {
    HSEAM_TRY(colours, matte::cleanColours(p.source, p.cutout->outcome(), executor, progress.part(0.4, 0.6)));
  }
  std::vector<float> taken;
  HSEAM_TRY(const TiledImage clean, shaded(colours, p, warp, shading, options.shading, executor, progress.part(0.6, 1), taken));
  std::sort(taken.begin(), taken.end());
  const auto at = [&](double share) { return double(taken[std::size_t(share * double(taken.size() - 1))]); };
  out.shadeStops = (at(0.9) - at(0.1)) / std::log(2.0);
  out.edit.label = "lay " + l->name + " on cloth";
  out.edit.edits.push_back({scene::SetCut{id, p.cutout->alpha, clean, l->mask.byHand(), p.cutout->recipe, p.cutout->shaped}});
  if (!p.cutout->useClean) out.edit.edits.push_back({scene::SetUseClean{id, true}});
  out.edit.edits.push_back({scene::SetWarp{id, warp.neutral() ? nullptr : std::make_shared<const scene::Warp>(warp)}});
  return out;
}

}  // namespace hseam::retouch
