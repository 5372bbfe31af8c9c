#include "core/matte/solver.h"

#include <algorithm>
#include <cmath>
#include <new>

#include "core/image/rgb.h"
#include "core/image/transfer.h"
#include "core/matte/evidence.h"
#include "core/matte/foreground.h"
#include "core/matte/halved.h"
#include "core/matte/laplacian.h"
#include "core/matte/learned_alpha.h"
#include "core/matte/mixing.h"
#include "core/matte/traces.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kSmallest = 96;  // px of the longer side of the coarsest level
constexpr int kMaxLevels = 4;
constexpr std::size_t kDecides = 300000;  // undecided pixels that are enough to tell how a picture was mixed

bool namesBoth(const Raster<std::uint8_t>& band) {
  bool subject = false, background = false;
  for (const std::uint8_t b : band.samples()) {
    subject |= knownOf(b) == Known::subject;
    background |= knownOf(b) == Known::background;
  }
  return subject && background;
}

// One kind of values from coarse to fine.
class Pyramid {
 public:
  Pyramid(Raster<float> picture, const Raster<std::uint8_t>& band) {
    levels_.push_back({std::move(picture), band});
    while (int(levels_.size()) <= kMaxLevels &&
           std::max(levels_.back().band.width(), levels_.back().band.height()) > 2 * kSmallest) {
      Level next{halfPicture(levels_.back().picture), halfBand(levels_.back().band)};
      if (!namesBoth(next.band)) break;
      levels_.push_back(std::move(next));
    }
  }

  int levels() const { return int(levels_.size()); }
  const Raster<float>& picture(int n) const { return levels_[std::size_t(n)].picture; }
  const Raster<std::uint8_t>& band(int n) const { return levels_[std::size_t(n)].band; }
  // Of the level solved last.
  const Raster<float>& alpha() const { return alpha_; }
  Raster<float> takeAlpha() { return std::move(alpha_); }
  const std::vector<Evidence>& evidence() const { return evidence_; }
  const std::vector<int>& pixels() const { return pixels_; }
  // How sure colours are of each undecided pixel of the level solved last; 0 elsewhere.
  Raster<float> certainty() const {
    Raster<float> out(alpha_.width(), alpha_.height());
    for (std::size_t i = 0; i < pixels_.size(); ++i) out.samples()[std::size_t(pixels_[i])] = evidence_[i].confidence;
    return out;
  }

  // Levels have to be solved one after another, the coarsest first.
  base::Status solve(int n, const SolveOptions& o, base::Executor& executor, const base::Progress& progress) {
    const Raster<float>& colours = picture(n);
    const Raster<std::uint8_t>& labels = band(n);
    const Laplacian system(colours, labels, o.eps, executor);
    progress.report(0.2);
    if (progress.cancelled()) return base::cancelledError();
    const std::optional<Raster<float>> guess =
        alpha_.pixels() > 0 ? std::optional(enlarged(alpha_, labels.size(), executor)) : std::nullopt;
    pixels_ = system.pixels();
    base::StoppableExecutor until(executor, progress.token());
    evidence_ = colourEvidence(colours, LocalColours(colours, labels, guess ? &*guess : nullptr, pixels_, until), pixels_, until);
    if (progress.cancelled()) return base::cancelledError();
    progress.report(0.35);
    const std::size_t count = pixels_.size();
    std::vector<double> start(count), weight(count), target(count);
    for (std::size_t i = 0; i < count; ++i) {
      // What colours tell without much doubt counts; half a doubt counts next to nothing.
      const double sure = double(evidence_[i].confidence);
      weight[i] = o.evidenceWeight * sure * sure;
      target[i] = double(evidence_[i].alpha);
      start[i] = guess ? double(guess->samples()[std::size_t(pixels_[i])]) : target[i];
    }
    HSEAM_TRY(const Laplacian::Solution s, system.solve(start, weight, target, n > 0 ? o.tolerance * 3 : o.tolerance,
                                                        o.maxIterations, executor, progress.part(0.35, 1)));
    alpha_ = Raster<float>(colours.width(), colours.height());
    for (std::size_t i = 0; i < labels.samples().size(); ++i)
      alpha_.samples()[i] = knownOf(labels.samples()[i]) == Known::subject ? 1.f : 0.f;
    for (std::size_t i = 0; i < count; ++i) alpha_.samples()[std::size_t(pixels_[i])] = float(std::clamp(s.alpha[i], 0.0, 1.0));
    return {};
  }

 private:
  struct Level {
    Raster<float> picture;
    Raster<std::uint8_t> band;
  };
  std::vector<Level> levels_;
  Raster<float> alpha_;
  std::vector<Evidence> evidence_;
  std::vector<int> pixels_;
};

std::size_t undecidedCount(const Raster<std::uint8_t>& band) {
  return std::size_t(
      std::count_if(band.samples().begin(), band.samples().end(), [](std::uint8_t b) { return knownOf(b) == Known::undecided; }));
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

// Each level costs a quarter of the next.
base::Progress partOfLevel(const base::Progress& progress, int level, int coarsest) {
  const double to = std::pow(0.25, double(level));
  return progress.part(level == coarsest ? 0 : to / 4, to);
}

// In the values of `picture` alone.
base::Result<Solution> solveIn(Raster<float> picture, const Raster<std::uint8_t>& band, const SolveOptions& options,
                               base::Executor& executor, const base::Progress& progress) {
  Pyramid pyramid(std::move(picture), band);
  const int coarsest = pyramid.levels() - 1;
  for (int n = coarsest; n >= 0; --n) HSEAM_DO(pyramid.solve(n, options, executor, partOfLevel(progress, n, coarsest)));
  progress.report(1);
  Raster<float> certainty = pyramid.certainty();
  return Solution{pyramid.takeAlpha(), *options.encodedShare, std::move(certainty)};
}

base::Result<Solution> solvedBand(const Raster<float>& picture, const Raster<std::uint8_t>& band, const SolveOptions& options,
                                  base::Executor& executor, const base::Progress& progress) {
  CORE_CHECK(picture.size() == band.size() && picture.channels() == 3);
  if (!namesBoth(band))
    return base::Error{base::Code::invalid, "", "the band must leave some sure subject and some sure background"};
  if (options.encodedShare && *options.encodedShare > 0.5) return solveIn(picture, band, options, executor, progress);
  Raster<float> light = picture;
  for (float& v : light.samples()) v = image::fastLinear(v);
  if (options.encodedShare) return solveIn(std::move(light), band, options, executor, progress);
  Pyramid inLight(std::move(light), band), inEncoded(picture, band);
  const int coarsest = inLight.levels() - 1;
  int decides = 0;  // the level that tells how the picture was mixed
  while (decides < coarsest && undecidedCount(inLight.band(decides)) > kDecides) ++decides;
  const auto part = [&](int n) { return partOfLevel(progress, n, coarsest); };
  for (int n = coarsest; n >= decides; --n) {
    const base::Progress p = part(n);
    HSEAM_DO(inLight.solve(n, options, executor, p.part(0, 0.5)));
    HSEAM_DO(inEncoded.solve(n, options, executor, p.part(0.5, 1)));
  }
  const double encodedShare = encodedShareOf({inLight.picture(decides), inLight.alpha(), inLight.evidence()},
                                             {inEncoded.picture(decides), inEncoded.alpha(), inEncoded.evidence()},
                                             inLight.band(decides), inLight.pixels(), executor);
  if (decides == 0) {
    Raster<float> alpha = inLight.alpha();
    for (std::size_t i = 0; i < alpha.samples().size(); ++i)
      alpha.samples()[i] += float(encodedShare) * (inEncoded.alpha().samples()[i] - alpha.samples()[i]);
    progress.report(1);
    return Solution{std::move(alpha), encodedShare, (encodedShare > 0.5 ? inEncoded : inLight).certainty()};
  }
  Pyramid& chosen = encodedShare > 0.5 ? inEncoded : inLight;
  for (int n = decides - 1; n >= 0; --n) HSEAM_DO(chosen.solve(n, options, executor, part(n)));
  progress.report(1);
  Raster<float> certainty = chosen.certainty();
  return Solution{chosen.takeAlpha(), encodedShare, std::move(certainty)};
}

}  // namespace

base::Result<Raster<float>> solveAlpha(const Raster<float>& picture, const Raster<std::uint8_t>& band,
                                       const SolveOptions& options, base::Executor& executor, const base::Progress& progress) {
  HSEAM_TRY(Solution s, solveBand(picture, band, options, executor, progress));
  return std::move(s.alpha);
}

base::Result<Solution> solveBand(const Raster<float>& picture, const Raster<std::uint8_t>& band, const SolveOptions& options,
                                 base::Executor& executor, const base::Progress& progress) {
  HSEAM_TRY(Solution s, solvedBand(picture, band, options, executor, progress.part(0, options.learned ? 0.8 : 1)));
  if (options.pressTraces) pressTraces(s.alpha, band, s.certainty);
  if (!options.learned) return s;
  auto corrected = learnedAlpha({picture, band, s.alpha, s.certainty}, executor, progress.part(0.8, 1));
  if (corrected.ok()) {
    s.alpha = std::move(corrected).value();
  } else if (corrected.error().code == base::Code::cancelled || corrected.error().code == base::Code::outOfMemory) {
    return corrected.error();
  } else {
    s.missing = corrected.error().text();
  }
  return s;
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
  HSEAM_TRY(Raster<float> read, image::readFloat(source, 0, area));
  const Raster<float> picture = image::rgbOf(std::move(read));
  HSEAM_TRY(const Solution solution, solveBand(picture, near, options, executor, progress.part(0.02, 0.7)));
  const Raster<float>& alpha = solution.alpha;
  Cut cut;
  cut.encodedShare = solution.encodedShare;
  cut.missing = solution.missing;
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
} catch (...) {
  return base::caught();
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
