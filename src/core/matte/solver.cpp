#include "core/matte/solver.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/image/transfer.h"
#include "core/matte/evidence.h"
#include "core/matte/foreground.h"
#include "core/matte/laplacian.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kSmallest = 96;  // px of the longer side of the coarsest level
constexpr int kMaxLevels = 4;

Raster<float> halfPicture(const Raster<float>& in) {
  const int ch = in.channels();
  Raster<float> out((in.width() + 1) / 2, (in.height() + 1) / 2, ch);
  for (int y = 0; y < out.height(); ++y) {
    const int y0 = 2 * y, y1 = std::min(2 * y + 1, in.height() - 1);
    for (int x = 0; x < out.width(); ++x) {
      const int x0 = 2 * x, x1 = std::min(2 * x + 1, in.width() - 1);
      for (int c = 0; c < ch; ++c)
        out.at(x, y)[c] = 0.25f * (in.at(x0, y0)[c] + in.at(x1, y0)[c] + in.at(x0, y1)[c] + in.at(x1, y1)[c]);
    }
  }
  return out;
}

// A coarse pixel is decided only if all four below agree.
Raster<std::uint8_t> halfBand(const Raster<std::uint8_t>& in) {
  Raster<std::uint8_t> out((in.width() + 1) / 2, (in.height() + 1) / 2);
  for (int y = 0; y < out.height(); ++y) {
    const int y0 = 2 * y, y1 = std::min(2 * y + 1, in.height() - 1);
    for (int x = 0; x < out.width(); ++x) {
      const int x0 = 2 * x, x1 = std::min(2 * x + 1, in.width() - 1);
      const Known k = knownOf(*in.at(x0, y0));
      const bool same = k == knownOf(*in.at(x1, y0)) && k == knownOf(*in.at(x0, y1)) && k == knownOf(*in.at(x1, y1));
      *out.at(x, y) = !same || k == Known::undecided ? kUndecided : (k == Known::subject ? kSubject : kBackground);
    }
  }
  return out;
}

float bilinear(const Raster<float>& in, float x, float y) {
  x = std::clamp(x - 0.5f, 0.f, float(in.width() - 1));
  y = std::clamp(y - 0.5f, 0.f, float(in.height() - 1));
  const int x0 = int(x), y0 = int(y), x1 = std::min(x0 + 1, in.width() - 1), y1 = std::min(y0 + 1, in.height() - 1);
  const float u = x - float(x0), v = y - float(y0);
  return (1 - v) * ((1 - u) * *in.at(x0, y0) + u * *in.at(x1, y0)) + v * ((1 - u) * *in.at(x0, y1) + u * *in.at(x1, y1));
}

bool namesBoth(const Raster<std::uint8_t>& band) {
  bool subject = false, background = false;
  for (const std::uint8_t b : band.samples()) {
    subject |= knownOf(b) == Known::subject;
    background |= knownOf(b) == Known::background;
  }
  return subject && background;
}

// `coarse`: the solution of the level above, or null.
base::Result<Raster<float>> solveLevel(const Raster<float>& picture, const Raster<std::uint8_t>& band,
                                       const Raster<float>* coarse, const SolveOptions& o, base::Executor& executor,
                                       const base::Progress& progress) {
  const Laplacian system(picture, band, o.eps, executor);
  progress.report(0.2);
  if (progress.cancelled()) return base::cancelledError();
  const std::vector<Evidence> evidence = colourEvidence(picture, band, system.pixels(), executor);
  progress.report(0.35);
  const std::size_t n = evidence.size();
  std::vector<double> start(n), weight(n), target(n);
  for (std::size_t i = 0; i < n; ++i) {
    const int at = system.pixels()[i], x = at % picture.width(), y = at / picture.width();
    weight[i] = o.evidenceWeight * double(evidence[i].confidence);
    target[i] = double(evidence[i].alpha);
    start[i] = coarse ? double(bilinear(*coarse, (float(x) + 0.5f) / 2, (float(y) + 0.5f) / 2)) : double(evidence[i].alpha);
  }
  HSEAM_TRY(const Laplacian::Solution s,
            system.solve(start, weight, target, o.tolerance, o.maxIterations, executor, progress.part(0.35, 1)));
  Raster<float> alpha(picture.width(), picture.height());
  for (std::size_t i = 0; i < band.samples().size(); ++i)
    alpha.samples()[i] = knownOf(band.samples()[i]) == Known::subject ? 1.f : 0.f;
  for (std::size_t i = 0; i < n; ++i) alpha.samples()[std::size_t(system.pixels()[i])] = float(std::clamp(s.alpha[i], 0.0, 1.0));
  return alpha;
}

Rect undecidedArea(const Raster<std::uint8_t>& band) {
  int l = band.width(), t = band.height(), r = 0, b = 0;
  for (int y = 0; y < band.height(); ++y) {
    for (int x = 0; x < band.width(); ++x) {
      if (knownOf(*band.at(x, y)) != Known::undecided) continue;
      l = std::min(l, x), t = std::min(t, y), r = std::max(r, x + 1), b = std::max(b, y + 1);
    }
  }
  return r > l ? Rect{l, t, r - l, b - t} : Rect{};
}

template <class T>
Raster<T> cropped(const Raster<T>& in, const Rect& area) {
  Raster<T> out(area.width, area.height, in.channels());
  for (int y = 0; y < area.height; ++y)
    std::copy_n(in.at(area.x, area.y + y), std::size_t(area.width) * std::size_t(in.channels()), out.row(y));
  return out;
}

}  // namespace

base::Result<Raster<float>> solveAlpha(const Raster<float>& picture, const Raster<std::uint8_t>& band,
                                       const SolveOptions& options, base::Executor& executor, const base::Progress& progress) {
  CORE_CHECK(picture.size() == band.size() && picture.channels() == 3);
  if (!namesBoth(band))
    return base::Error{base::Code::invalid, "", "the band must leave some sure subject and some sure background"};
  struct LevelInput {
    Raster<float> picture;
    Raster<std::uint8_t> band;
  };
  // Lenses mix subject and background as light; there the colour lines that the Laplacian fits are straight.
  const auto& table = image::transferTables();
  Raster<float> linear = picture;
  for (float& v : linear.samples()) v = image::fastLinear(v, table);
  std::vector<LevelInput> coarser;
  const auto pictureAt = [&](std::size_t n) -> const Raster<float>& { return n == 0 ? linear : coarser[n - 1].picture; };
  const auto bandAt = [&](std::size_t n) -> const Raster<std::uint8_t>& { return n == 0 ? band : coarser[n - 1].band; };
  while (int(coarser.size()) < kMaxLevels &&
         std::max(pictureAt(coarser.size()).width(), pictureAt(coarser.size()).height()) > 2 * kSmallest) {
    LevelInput next{halfPicture(pictureAt(coarser.size())), halfBand(bandAt(coarser.size()))};
    if (!namesBoth(next.band)) break;
    coarser.push_back(std::move(next));
  }
  std::optional<Raster<float>> solved;
  for (std::size_t n = coarser.size() + 1; n-- > 0;) {
    // Each level costs a quarter of the next.
    const double from = n == 0 ? 0.25 : 0.25 * double(coarser.size() - n) / double(coarser.size() + 1);
    SolveOptions o = options;
    if (n > 0) o.tolerance *= 3;
    HSEAM_TRY(solved, solveLevel(pictureAt(n), bandAt(n), solved ? &*solved : nullptr, o, executor,
                                 progress.part(from, n == 0 ? 1 : from + 0.02)));
  }
  progress.report(1);
  return std::move(*solved);
}

base::Result<Cut> solveCut(const TiledImage& source, const TiledImage& band, const SolveOptions& options,
                           image::PixelFormat alphaFormat, base::Executor& executor, const base::Progress& progress) try {
  CORE_CHECK(source.size() == band.size());
  const Rect whole = Rect::of(source.size());
  HSEAM_TRY(const Raster<std::uint8_t> wholeBand, image::read8(band, 0, whole));
  const Rect undecided = undecidedArea(wholeBand);
  // Enough surroundings for colour samples on both sides of the band.
  const Rect area = (undecided.empty() ? whole : undecided.grown(48)).intersected(whole);
  const Raster<std::uint8_t> near = cropped(wholeBand, area);
  HSEAM_TRY(Raster<float> picture, image::readFloat(source, 0, area));
  if (picture.channels() == 4) {
    Raster<float> rgb(area.width, area.height, 3);
    for (std::size_t i = 0; i < rgb.pixels(); ++i) std::copy_n(picture.samples().data() + i * 4, 3, rgb.samples().data() + i * 3);
    picture = std::move(rgb);
  }
  HSEAM_TRY(const Raster<float> alpha, solveAlpha(picture, near, options, executor, progress.part(0.02, 0.7)));
  Cut cut;
  HSEAM_TRY(cut.alpha,
            image::tiledFromRows(source.size(), alphaFormat, source.memory(), executor, {},
                                 [&](int first, int count, std::byte* rows) -> base::Status {
                                   for (int y = first; y < first + count; ++y) {
                                     for (int x = 0; x < whole.width; ++x) {
                                       const float a = area.contains(x, y)
                                                           ? *alpha.at(x - area.x, y - area.y)
                                                           : (knownOf(*wholeBand.at(x, y)) == Known::subject ? 1.f : 0.f);
                                       const std::size_t at = std::size_t(y - first) * std::size_t(whole.width) + std::size_t(x);
                                       if (image::isWide(alphaFormat)) {
                                         reinterpret_cast<std::uint16_t*>(rows)[at] = std::uint16_t(std::lround(a * 65535));
                                       } else {
                                         reinterpret_cast<std::uint8_t*>(rows)[at] = std::uint8_t(std::lround(a * 255));
                                       }
                                     }
                                   }
                                   return {};
                                 }));
  progress.report(0.72);
  HSEAM_TRY(const OwnColours own, ownColours(picture, alpha, executor, progress.part(0.72, 0.97)));
  HSEAM_TRY(cut.clean, withOwnColours(source, area, own, executor));
  progress.report(1);
  return cut;
} catch (const std::bad_alloc&) {
  return base::noMemory();
}

base::Result<TiledImage> maskAfterSolving(const TiledImage& mask, const TiledImage& oldAlpha, const TiledImage& newAlpha,
                                          base::Executor& executor) {
  if (mask.isNull() || oldAlpha.isNull() || mask.stamp() == oldAlpha.stamp()) return newAlpha;
  const Rect painted = image::differenceOf(mask, oldAlpha);
  if (painted.empty()) return newAlpha;
  HSEAM_TRY(Raster<std::uint8_t> result, image::read8(newAlpha, 0, painted));
  HSEAM_TRY(const Raster<std::uint8_t> m, image::read8(mask, 0, painted));
  HSEAM_TRY(const Raster<std::uint8_t> old, image::read8(oldAlpha, 0, painted));
  for (std::size_t i = 0; i < result.samples().size(); ++i) {
    if (m.samples()[i] != old.samples()[i]) result.samples()[i] = m.samples()[i];
  }
  return image::withPixels(newAlpha, painted, result, executor);
}

}  // namespace hseam::matte
