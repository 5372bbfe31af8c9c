#include "core/retouch/lift.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/rgb.h"
#include "core/repair/fill.h"
#include "core/repair/membrane.h"
#include "core/select/reshape.h"
#include "core/select/shape.h"

namespace hseam::retouch {
namespace {

using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;

// The smallest rectangle outside which coverage is 0.
Result<Rect> boundsOfCoverage(const TiledImage& coverage) {
  HSEAM_TRY(const Raster<std::uint8_t> c, image::read8(coverage, 0, Rect::of(coverage.size())));
  Rect out;
  for (int y = 0; y < c.height(); ++y) {
    const std::uint8_t* row = c.row(y);
    const auto* first = std::find_if(row, row + c.width(), [](std::uint8_t v) { return v > 0; });
    if (first == row + c.width()) continue;
    int last = c.width() - 1;
    while (row[last] == 0) --last;
    out = out.united({int(first - row), y, last + 1 - int(first - row), 1});
  }
  return out;
}

Result<Raster<float>> smoothed(const TiledImage& picture, const Rect& area, double sigma) {
  HSEAM_TRY(Raster<float> colours, image::readFloat(picture, 0, area));
  colours = image::rgbOf(std::move(colours));
  cv::Mat m(area.height, area.width, CV_32FC3, colours.samples().data());
  cv::GaussianBlur(m, m, {}, sigma, sigma, cv::BORDER_REPLICATE);
  return colours;
}

// What is left of the light, 0..1: read where there is shadow and no thing, nothing missing where there is neither, and as smooth
// as can be under the thing.
Result<Raster<float>> lightLeft(const TiledImage& picture, const TiledImage& ground, const TiledImage& thing,
                                const TiledImage& shadow, const Rect& area) {
  const double sigma = std::max(1.5, std::sqrt(double(area.width) * area.height) / 120);
  HSEAM_TRY(const Raster<float> with, smoothed(picture, area, sigma));
  HSEAM_TRY(const Raster<float> without, smoothed(ground, area, sigma));
  HSEAM_TRY(const Raster<std::uint8_t> inThing, image::read8(thing, 0, area));
  HSEAM_TRY(const Raster<std::uint8_t> inShadow, image::read8(shadow, 0, area));
  // Near the thing its own colours run into the smooth ones.
  const int near = 2 * int(std::ceil(sigma)) + 1;
  cv::Mat thingNear(area.height, area.width, CV_8U, const_cast<std::uint8_t*>(inThing.samples().data()));
  thingNear = thingNear > 8;
  cv::dilate(thingNear, thingNear, cv::getStructuringElement(cv::MORPH_ELLIPSE, {near, near}));
  Raster<float> left(area.width, area.height, 3, 1.f);
  Raster<std::uint8_t> holds(area.width, area.height, 1);
  constexpr float kBlack = 0.02f;
  for (std::size_t i = 0; i < holds.samples().size(); ++i) {
    const bool under = thingNear.data[i] != 0;
    holds.samples()[i] = std::uint8_t(under ? repair::Hold::loose : repair::Hold::fixed);
    if (under || inShadow.samples()[i] == 0) continue;
    for (std::size_t c = 0; c < 3; ++c) {
      const float w = with.samples()[3 * i + c], o = without.samples()[3 * i + c];
      left.samples()[3 * i + c] = std::clamp((w + kBlack) / (o + kBlack), 0.f, 1.f);
    }
  }
  repair::relax(left, holds);
  return left;
}

}  // namespace

Result<Lifted> lifted(const TiledImage& picture, const TiledImage& thing, const TiledImage& shadow, const LiftOptions& options,
                      base::Executor& executor, const base::Progress& progress) {
  for (const TiledImage* mask : {&thing, &shadow}) {
    if (mask->isNull() && mask == &shadow) continue;
    if (mask->isNull() || mask->size() != picture.size() || mask->format() != image::PixelFormat::grey8)
      return base::Error{base::Code::conflict, "", "the thing or its shadow does not fit the picture"};
  }
  TiledImage both = thing;
  if (!shadow.isNull()) {
    HSEAM_TRY(const Raster<std::uint8_t> part, image::read8(shadow, 0, Rect::of(picture.size())));
    HSEAM_TRY(both, select::combined(thing, Rect::of(picture.size()), part, select::Combine::add, executor));
  }
  HSEAM_TRY(const Rect bounds, boundsOfCoverage(both));
  if (bounds.empty()) return base::Error{base::Code::invalid, "", "nothing is selected that could be lifted"};
  Lifted out;
  HSEAM_TRY(out.hole, select::widened(both, options.widerPx, executor));
  HSEAM_TRY(out.ground, repair::filled(picture, out.hole, {options.seed, {}}, executor, progress.part(0, 0.9)));
  if (shadow.isNull()) return out;
  const int around = int(std::ceil(options.widerPx)) + 4;
  const Rect area = bounds.grown(around).intersected(Rect::of(picture.size()));
  HSEAM_TRY(const Raster<float> left, lightLeft(picture, out.ground, thing, shadow, area));
  if (progress.cancelled()) return base::cancelledError();
  Raster<std::uint8_t> bytes(area.width, area.height, 3);
  for (std::size_t i = 0; i < bytes.samples().size(); ++i)
    bytes.samples()[i] = std::uint8_t(std::lround(255 * std::clamp(left.samples()[i], 0.f, 1.f)));
  const std::array<std::byte, 3> all{std::byte{255}, std::byte{255}, std::byte{255}};
  HSEAM_TRY(out.shadow, image::withPixels(TiledImage::uniform(picture.size(), image::PixelFormat::rgb8, all, picture.memory()),
                                          area, bytes, executor));
  constexpr double kSoft = 1.5;
  HSEAM_TRY(out.shadowPlace, select::softened(both, kSoft, executor));
  return out;
}

}  // namespace hseam::retouch
