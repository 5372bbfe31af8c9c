#include "core/matte/band.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/matte/thick_middles.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;

// The rectangle outside which every tile is one value, the same everywhere around it.
Rect mixedArea(const image::TiledImage& image) {
  const auto& level = image.level(0);
  Rect area;
  for (int row = 0; row < level.rows; ++row) {
    for (int column = 0; column < level.columns; ++column) {
      const auto& t = level.tile(column, row);
      if (!t->uniform() || std::uint8_t((*t->uniform())[0]) != 0)
        area = area.united({column * image::kTileSide, row * image::kTileSide, image::kTileSide, image::kTileSide});
    }
  }
  return area;
}

}  // namespace

base::Result<image::TiledImage> makeBand(const image::TiledImage& selection, double widthPx, base::Executor& executor,
                                         const base::Progress& progress) {
  const Rect whole = Rect::of(selection.size());
  // The tiles round the selection reach at least one tile further than the selection itself.
  const int reach = int(std::ceil(widthPx / 2)) + 2;
  const Rect area = mixedArea(selection).grown(reach).intersected(whole);
  if (area.empty())
    return base::Error{base::Code::invalid, "", "nothing is selected yet; guess the subject or draw round it first"};
  HSEAM_TRY(const Raster<std::uint8_t> coverage, image::read8(selection, 0, area));
  progress.report(0.2);
  if (progress.cancelled()) return base::cancelledError();

  cv::Mat inside(area.height, area.width, CV_8U), outside(area.height, area.width, CV_8U);
  long selected = 0;
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const bool in = *coverage.at(x, y) >= 128;
      selected += in;
      inside.at<std::uint8_t>(y, x) = in ? 255 : 0;
      outside.at<std::uint8_t>(y, x) = in ? 0 : 255;
    }
  }
  if (selected == 0)
    return base::Error{base::Code::invalid, "", "nothing is selected yet; guess the subject or draw round it first"};
  if (selected == long(whole.width) * whole.height)
    return base::Error{base::Code::invalid, "", "everything is selected, so there is no edge"};
  cv::Mat toOutside, toInside;
  cv::distanceTransform(inside, toOutside, cv::DIST_L2, cv::DIST_MASK_5);
  progress.report(0.5);
  cv::distanceTransform(outside, toInside, cv::DIST_L2, cv::DIST_MASK_5);
  progress.report(0.8);
  if (progress.cancelled()) return base::cancelledError();

  // The half-way line runs half a pixel before the first pixel centre on either side.
  const float half = float(widthPx / 2) + 0.5f;
  const cv::Mat middles = thickMiddles(toOutside, half);
  Raster<std::uint8_t> band(area.width, area.height);
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const std::uint8_t c = *coverage.at(x, y);
      const bool in = c >= 128;
      const float distance = in ? toOutside.at<float>(y, x) : toInside.at<float>(y, x);
      const bool soft = c > 5 && c < 250;
      const bool middle = in && middles.at<std::uint8_t>(y, x);
      *band.at(x, y) = soft || (distance <= half && !middle) ? kUndecided : (in ? kSubject : kBackground);
    }
  }
  const image::TiledImage none = image::uniformCoverage(selection.size(), kBackground, selection.memory());
  auto made = image::withPixels(none, area, band, executor);
  progress.report(1);
  return made;
}

base::Result<double> undecidedShare(const image::TiledImage& band) {
  const auto& level = band.level(0);
  double count = 0;
  for (int row = 0; row < level.rows; ++row) {
    for (int column = 0; column < level.columns; ++column) {
      const Rect part = Rect{column * image::kTileSide, row * image::kTileSide, image::kTileSide, image::kTileSide}.intersected(
          Rect::of(level.size));
      HSEAM_TRY(const image::TilePin p, image::pin(level.tile(column, row)));
      if (p.isUniform()) {
        if (knownOf(std::uint8_t(*p.value())) == Known::undecided) count += double(part.width) * part.height;
        continue;
      }
      const auto* px = reinterpret_cast<const std::uint8_t*>(p.data());
      for (int y = 0; y < part.height; ++y) {
        for (int x = 0; x < part.width; ++x) count += knownOf(px[y * image::kTileSide + x]) == Known::undecided;
      }
    }
  }
  return count / (double(band.size().width) * band.size().height);
}

}  // namespace hseam::matte
