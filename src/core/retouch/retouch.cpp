#include "core/retouch/retouch.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/paint/colour_stroke.h"
#include "core/render/renderer.h"
#include "core/repair/membrane.h"
#include "core/repair/patch_fill.h"
#include "core/retouch/filled_around.h"

namespace hseam::retouch {

using base::Affine;
using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;

namespace {

bool wholeShift(const Affine& m) {
  constexpr double kWhole = 1e-6;
  const auto near = [](double v, double to) { return std::abs(v - to) < kWhole; };
  return near(m.a, 1) && near(m.b, 0) && near(m.c, 0) && near(m.d, 1) && near(m.e, std::round(m.e)) && near(m.f, std::round(m.f));
}

Rect within(const Stroke& s, int around) {
  return s.touched.grown(around).intersected(Rect::of(s.before.size()));
}

Result<Raster<std::uint8_t>> coveredIn(const Stroke& s, const Rect& area) {
  return image::read8(s.coverage, 0, area);
}

}  // namespace

Result<Raster<float>> shownOn(const scene::Scene& scene, const Affine& toScene, const Rect& area, base::Executor& executor,
                              const std::stop_token& stop) {
  render::Renderer renderer;
  if (wholeShift(toScene)) {
    const Rect there{area.x + int(std::lround(toScene.e)), area.y + int(std::lround(toScene.f)), area.width, area.height};
    return renderer.render(scene, there, 0, executor, stop);
  }
  // The level on which the copy takes about one pixel for one.
  const int level = std::clamp(int(std::floor(std::log2(std::max(1.0, toScene.scale())))), 0, 8);
  constexpr int kCubicReach = 3;
  const Affine toLevel = Affine::scaling(1.0 / (1 << level)).after(toScene);
  const Rect there = base::boundsOf(toLevel, area).grown(kCubicReach);
  HSEAM_TRY(Raster<float> pixels, renderer.render(scene, there, level, executor, stop));
  for (std::size_t i = 0; i < pixels.pixels(); ++i) {
    float* p = pixels.samples().data() + 4 * i;
    for (int c = 0; c < 3; ++c) p[c] *= p[3];
  }
  Raster<float> out(area.width, area.height, 4);
  const cv::Mat from(there.height, there.width, CV_32FC4, pixels.samples().data());
  cv::Mat to(area.height, area.width, CV_32FC4, out.samples().data());
  // Centres of pixels: index (i, j) lies at (i + ½, j + ½).
  const base::Point origin = toLevel.map({area.x + 0.5, area.y + 0.5});
  const cv::Matx23d map(toLevel.a, toLevel.b, origin.x - there.x - 0.5, toLevel.c, toLevel.d, origin.y - there.y - 0.5);
  cv::warpAffine(from, to, map, to.size(), cv::INTER_CUBIC | cv::WARP_INVERSE_MAP, cv::BORDER_CONSTANT, cv::Scalar::all(0));
  for (std::size_t i = 0; i < out.pixels(); ++i) {
    float* p = out.samples().data() + 4 * i;
    p[3] = std::clamp(p[3], 0.f, 1.f);
    for (int c = 0; c < 3; ++c) p[c] = p[3] > 1e-3f ? std::clamp(p[c] / p[3], 0.f, 1.f) : 0.f;
  }
  return out;
}

Result<TiledImage> copiedInLight(const Stroke& s, const scene::Scene& source, const Affine& toSource, const scene::Scene& under,
                                 base::Executor& executor, const base::Progress& progress) {
  const Rect area = within(s, 2);
  if (area.empty()) return s.before;
  HSEAM_TRY(Raster<float> copied, shownOn(source, toSource, area, executor, progress.token()));
  HSEAM_TRY(const Raster<float> below, shownOn(under, s.toScene, area, executor, progress.token()));
  HSEAM_TRY(const Raster<std::uint8_t> cover, coveredIn(s, area));
  repair::takeLight(copied, below, cover);
  return paint::laidOn(s.before, s.before, s.coverage, copied, area, executor);
}

Result<FilledAround> filledAround(const Stroke& s, const scene::Scene& under, std::uint32_t seed, base::Executor& executor,
                                  const base::Progress& progress) {
  constexpr int kLeastAround = 72;
  FilledAround out;
  out.area = within(s, std::max({kLeastAround, s.touched.width, s.touched.height}));
  HSEAM_TRY(out.shown, shownOn(under, s.toScene, out.area, executor, progress.token()));
  HSEAM_TRY(out.coverage, coveredIn(s, out.area));
  Raster<float> colours(out.area.width, out.area.height, 3);
  Raster<std::uint8_t> hole(out.area.width, out.area.height, 1), known(out.area.width, out.area.height, 1);
  for (std::size_t i = 0; i < out.shown.pixels(); ++i) {
    const float* shown = out.shown.samples().data() + 4 * i;
    std::copy_n(shown, 3, colours.samples().data() + 3 * i);
    hole.samples()[i] = out.coverage.samples()[i] > 0;
    known.samples()[i] = out.coverage.samples()[i] == 0 && shown[3] > 0.99f;
  }
  HSEAM_TRY(const bool done, repair::fillPatches(colours, hole, known, seed, executor, progress));
  if (!done) return base::Error{base::Code::invalid, "", "nothing is left around it that it could be mended from"};
  out.filled = Raster<float>(out.area.width, out.area.height, 4, 1);
  for (std::size_t i = 0; i < colours.pixels(); ++i)
    std::copy_n(colours.samples().data() + 3 * i, 3, out.filled.samples().data() + 4 * i);
  return out;
}

Result<TiledImage> mended(const Stroke& s, const scene::Scene& under, std::uint32_t seed, base::Executor& executor,
                          const base::Progress& progress) {
  if (within(s, 0).empty()) return s.before;
  HSEAM_TRY(const FilledAround made, filledAround(s, under, seed, executor, progress));
  return paint::laidOn(s.before, s.before, s.coverage, made.filled, made.area, executor);
}

}  // namespace hseam::retouch
