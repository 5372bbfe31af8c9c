#include "core/matte/stretch_solve.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/image/rgb.h"
#include "core/matte/edge_fit.h"
#include "core/matte/foreground.h"
#include "core/matte/stretch_zone.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr double kHairReach = 64, kSolidReach = 5;
constexpr double kInside = 24;     // px: strands root near the outline; further in lie the colours that they are told by
constexpr double kQuick = 2;       // times the tolerance: the user waits for it; errors grow by some 4 % (stretch_test)
constexpr int kSurroundings = 24;  // px round the zone, for colours and for neighbours that stay undecided

// The window's part of a grey8 image; null: `value` everywhere.
base::Result<Raster<std::uint8_t>> partOf(const TiledImage& image, const Rect& window, std::uint8_t value) {
  if (!image.isNull()) return image::read8(image, 0, window);
  return Raster<std::uint8_t>(window.width, window.height, 1, value);
}

// What is decided in the zone goes by the side of the outline; elsewhere by the alpha that is there.
Raster<std::uint8_t> bandIn(const StretchZone& z, const Raster<std::uint8_t>& old, const Raster<std::uint8_t>& alpha,
                            double reach, bool keep) {
  Raster<std::uint8_t> band(z.window.width, z.window.height);
  for (int y = 0; y < band.height(); ++y) {
    for (int x = 0; x < band.width(); ++x) {
      const std::uint8_t a = *alpha.at(x, y), before = *old.at(x, y);
      std::uint8_t& to = *band.at(x, y);
      if (*z.place.at(x, y) < 0) {
        to = a >= 128 ? kSubject : kBackground;
        continue;
      }
      const double s = double(*z.across.at(x, y));
      const bool painted = keep && knownOf(before) == Known::undecided && a > 5 && a < 250;
      to = (s <= reach && s >= -std::min(reach, kInside)) || painted ? kUndecided : (s < 0 ? kSubject : kBackground);
    }
  }
  return band;
}

// Neighbours of the zone that are fractional stay undecided: decided, they would press on its ends.
void openNeighbours(const StretchZone& z, const Raster<std::uint8_t>& alpha, Raster<std::uint8_t>& band) {
  constexpr int kStep = 4;
  const auto nearStretchZone = [&](int x, int y) {
    for (int dy = -kSurroundings; dy <= kSurroundings; dy += kStep) {
      for (int dx = -kSurroundings; dx <= kSurroundings; dx += kStep) {
        const int ax = x + dx, ay = y + dy;
        if (ax >= 0 && ay >= 0 && ax < band.width() && ay < band.height() && *z.place.at(ax, ay) >= 0) return true;
      }
    }
    return false;
  };
  for (int y = 0; y < band.height(); ++y) {
    for (int x = 0; x < band.width(); ++x) {
      const std::uint8_t a = *alpha.at(x, y);
      if (*z.place.at(x, y) < 0 && a > 5 && a < 250 && nearStretchZone(x, y)) *band.at(x, y) = kUndecided;
    }
  }
}

base::Result<Raster<float>> fittedAlpha(const StretchZone& z, const TiledImage& source, const Unrolled& outline, int first,
                                        int count, bool inEncoded) {
  HSEAM_TRY(const FittedEdge edge, fittedEdge(outline, first, count, source, inEncoded));
  Raster<float> alpha(z.window.width, z.window.height);
  for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
    if (z.place.samples()[i] < 0) continue;
    const auto k = std::size_t(z.place.samples()[i] - first);
    alpha.samples()[i] = float(coverageAcross(double(z.across.samples()[i]), edge.outwardsPx[k], edge.sigmaPx[k]));
  }
  return alpha;
}

// The zone's colours: the subject's own where it is fractional, the source's elsewhere.
OwnColours zoneColours(const StretchZone& z, const Raster<float>& picture, const OwnColours& own) {
  OwnColours out;
  std::vector<int> at(z.place.pixels(), -1);
  for (std::size_t i = 0; i < at.size(); ++i) {
    if (z.place.samples()[i] < 0) continue;
    at[i] = int(out.pixels.size());
    out.pixels.push_back(int(i));
    const float* c = picture.samples().data() + i * 3;
    out.colours.push_back({c[0], c[1], c[2]});
  }
  for (std::size_t i = 0; i < own.pixels.size(); ++i) {
    if (const int k = at[std::size_t(own.pixels[i])]; k >= 0) out.colours[std::size_t(k)] = own.colours[i];
  }
  return out;
}

double softReach(const Unrolled& outline, int first, int count, const TiledImage& alpha, base::Status& status) {
  const auto forms = edgeForms(outline, first, count, alpha);
  if (!forms.ok()) {
    status = forms.error();
    return kSolidReach;
  }
  std::vector<float> widths;
  for (const EdgeReading& r : *forms) widths.push_back(r.softnessPx);
  const auto at = widths.begin() + std::ptrdiff_t(widths.size() * 9 / 10);
  std::nth_element(widths.begin(), at, widths.end());
  return std::clamp(0.9 * double(*at) + 6, 10.0, 40.0);
}

}  // namespace

base::Result<SolvedStretch> solveStretch(const TiledImage& source, const TiledImage& band, const TiledImage& alpha,
                                         const TiledImage& clean, const Unrolled& outline, int first, int count,
                                         const StretchSolveOptions& options, base::Executor& executor,
                                         const base::Progress& progress) try {
  CORE_CHECK(first >= 0 && count > 0 && first + count <= int(outline.places.size()));
  double reach = options.reachPx;
  if (reach <= 0) {
    base::Status read;
    reach = options.as == EdgeKind::hair
                ? kHairReach
                : (options.as == EdgeKind::solid ? kSolidReach : softReach(outline, first, count, alpha, read));
    HSEAM_DO(read);
  }
  const StretchZone z = stretchZone(outline, first, count, std::max(kStretchReach, int(std::ceil(reach)) + kSurroundings),
                                    kSurroundings, source.size());
  HSEAM_TRY(const Raster<std::uint8_t> oldAlpha, image::read8(alpha, 0, z.window));
  HSEAM_TRY(const Raster<std::uint8_t> oldBand, partOf(band, z.window, kUndecided));
  HSEAM_TRY(Raster<float> read, image::readFloat(source, 0, z.window));
  const Raster<float> picture = image::rgbOf(std::move(read));
  Raster<std::uint8_t> labels = bandIn(z, oldBand, oldAlpha, reach, options.as == EdgeKind::hair && !band.isNull());
  progress.report(0.05);

  Raster<float> solved;
  const double encodedShare = options.solving.encodedShare.value_or(0);
  if (options.as == EdgeKind::solid) {
    HSEAM_TRY(solved, fittedAlpha(z, source, outline, first, count, encodedShare > 0.5));
  } else {
    Raster<std::uint8_t> wider = labels;
    openNeighbours(z, oldAlpha, wider);
    SolveOptions quick = options.solving;
    quick.tolerance *= kQuick;
    HSEAM_TRY(solved, solveAlpha(picture, wider, quick, executor, progress.part(0.05, 0.75)));
  }
  if (progress.cancelled()) return base::cancelledError();
  Raster<float> mixed(z.window.width, z.window.height);
  Raster<std::uint8_t> newAlpha = oldAlpha, newBand = oldBand;
  for (std::size_t i = 0; i < mixed.samples().size(); ++i) {
    const float before = float(oldAlpha.samples()[i]) / 255, share = z.share.samples()[i];
    mixed.samples()[i] = before + share * (solved.samples()[i] - before);
    if (z.place.samples()[i] < 0) continue;
    newAlpha.samples()[i] = std::uint8_t(std::lround(255 * mixed.samples()[i]));
    newBand.samples()[i] = labels.samples()[i];
  }
  SolvedStretch out;
  HSEAM_TRY(out.cut.alpha, image::withPixels(alpha, z.window, newAlpha, executor));
  out.band = band;
  if (!band.isNull()) {
    HSEAM_TRY(out.band, image::withPixels(band, z.window, newBand, executor));
  }
  HSEAM_TRY(const OwnColours own, ownColours(picture, mixed, executor, progress.part(0.75, 0.95)));
  HSEAM_TRY(out.cut.clean, withOwnColours(clean.isNull() ? source : clean, z.window, zoneColours(z, picture, own), executor));
  out.cut.encodedShare = encodedShare;
  progress.report(1);
  return out;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::matte
