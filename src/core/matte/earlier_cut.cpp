#include "core/matte/earlier_cut.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/matte/nearest_place.h"
#include "core/matte/stretch_zone.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kNoise = 7;  // of 255: smaller changes are nobody's loss
constexpr int kTile = 256;

// One channel after another of `now`, moved towards `then` by the zone's share.
base::Result<TiledImage> takenBack(const TiledImage& now, const TiledImage& then, const StretchZone& z,
                                   base::Executor& executor) {
  if (now.isNull() || then.isNull() || image::isWide(now.format())) return now;
  HSEAM_TRY(Raster<std::uint8_t> to, image::read8(now, 0, z.window));
  HSEAM_TRY(const Raster<std::uint8_t> from, image::read8(then, 0, z.window));
  if (to.channels() != from.channels()) return now;
  const auto channels = std::size_t(to.channels());
  for (std::size_t i = 0; i < z.place.pixels(); ++i) {
    if (z.place.samples()[i] < 0) continue;
    for (std::size_t c = i * channels; c < (i + 1) * channels; ++c) {
      const float a = to.samples()[c], b = from.samples()[c];
      to.samples()[c] = std::uint8_t(std::lround(a + z.share.samples()[i] * (b - a)));
    }
  }
  return image::withPixels(now, z.window, to, executor);
}

}  // namespace

base::Result<CutDifference> cutDifference(const TiledImage& before, const TiledImage& after, base::Executor& executor,
                                          const base::Progress& progress) try {
  CORE_CHECK(before.size() == after.size());
  CutDifference out;
  out.where = image::uniformCoverage(after.size(), kAlike, after.memory());
  const Rect changed = image::differenceOf(before, after);
  if (changed.empty()) return out;
  HSEAM_TRY(const Unrolled outline, unrolled(after));
  HSEAM_TRY(const auto forms, edgeForms(outline, 0, int(outline.places.size()), after));
  progress.report(0.4);
  const NearestPlace nearest(outline, after.size());
  HSEAM_TRY(const Raster<std::uint8_t> a, image::read8(before, 0, changed));
  HSEAM_TRY(const Raster<std::uint8_t> b, image::read8(after, 0, changed));
  Raster<std::uint8_t> labels(changed.width, changed.height, 1, kAlike);
  std::vector<Rect> tiles;
  for (int y = changed.y; y < changed.bottom(); y += kTile) {
    for (int x = changed.x; x < changed.right(); x += kTile) tiles.push_back(Rect{x, y, kTile, kTile}.intersected(changed));
  }
  struct Sums {
    LostGained all;
    std::array<LostGained, 3> byKind;
  };
  std::vector<Sums> sums(tiles.size());
  executor.forEach(int(tiles.size()), [&](int t) {
    const Rect& tile = tiles[std::size_t(t)];
    Raster<int> place;  // made where something differs
    for (int y = tile.y; y < tile.bottom(); ++y) {
      for (int x = tile.x; x < tile.right(); ++x) {
        const int d = int(*b.at(x - changed.x, y - changed.y)) - int(*a.at(x - changed.x, y - changed.y));
        if (std::abs(d) <= kNoise) continue;
        if (place.pixels() == 0) place = nearest.of(tile, kStretchReach);
        *labels.at(x - changed.x, y - changed.y) = d < 0 ? kLost : kGained;
        const auto count = [d](LostGained& to) { (d < 0 ? to.lost : to.gained) += std::abs(d) / 255.0; };
        Sums& s = sums[std::size_t(t)];
        count(s.all);
        if (const int i = *place.at(x - tile.x, y - tile.y); i >= 0) count(s.byKind[std::size_t(forms[std::size_t(i)].kind)]);
      }
    }
  });
  if (progress.cancelled()) return base::cancelledError();
  for (const Sums& s : sums) {
    out.all.lost += s.all.lost, out.all.gained += s.all.gained;
    for (std::size_t k = 0; k < 3; ++k) out.byKind[k].lost += s.byKind[k].lost, out.byKind[k].gained += s.byKind[k].gained;
  }
  HSEAM_TRY(out.where, image::withPixels(out.where, changed, labels, executor));
  progress.report(1);
  return out;
} catch (...) {
  return base::caught();
}

base::Result<CutPictures> stretchTakenBack(const CutPictures& now, const CutPictures& then, const MarkedStretch& mark,
                                           base::Executor& executor) {
  HSEAM_TRY(const Unrolled outline, unrolled(now.alpha));
  CutPictures out = now;
  for (const PlaceRun& run : runsOn(outline, mark)) {
    const StretchZone z = stretchZone(outline, run.first, run.count, kStretchReach, 0, now.alpha.size());
    HSEAM_TRY(out.alpha, takenBack(out.alpha, then.alpha, z, executor));
    HSEAM_TRY(out.clean, takenBack(out.clean, then.clean, z, executor));
    HSEAM_TRY(out.mask, takenBack(out.mask, then.mask, z, executor));
  }
  return out;
}

}  // namespace hseam::matte
