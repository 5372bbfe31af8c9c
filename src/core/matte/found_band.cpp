#include "core/matte/found_band.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <new>
#include <opencv2/imgproc.hpp>

#include "core/image/rgb.h"
#include "core/matte/confirmed_growth.h"
#include "core/matte/evidence.h"
#include "core/matte/missed_places.h"
#include "core/matte/solver.h"
#include "core/matte/thick_middles.h"
#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;

constexpr int kLongest = 1600;  // px a side of the level on which the edge is looked for
constexpr int kGrowths = 7;
constexpr int kInwards = 2;           // into the subject
constexpr int kGrowth = 16;           // px of the level
constexpr float kSideBySide = 3.5f;   // px of 49
constexpr float kLeast = 0.12f;       // of alpha, for a trace at the strip's rim
constexpr float kSignificant = 2.5f;  // standard deviations that it is away from nothing
constexpr int kGround = 4 * 40 * 40;  // px of the level
constexpr int kBeyond = 40;           // px of the level
constexpr int kNear = 24;             // px of the level
constexpr int kAround = 97;           // px of the level, across which rates of traces are compared
constexpr double kOften = 2.5;        // times as many traces at the rim as the ground's own texture leaves further out
constexpr double kFew = 0.02;         // of a rim's pixels
constexpr float kFraction = 0.02f;

cv::Mat viewOf(const Raster<std::uint8_t>& r) {
  return cv::Mat(r.height(), r.width(), CV_8U, const_cast<std::uint8_t*>(r.row(0)));
}
cv::Mat viewOf(const Raster<float>& r) {
  return cv::Mat(r.height(), r.width(), CV_32F, const_cast<float*>(r.row(0)));
}

cv::Mat disc(int radius) {
  return cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * radius + 1, 2 * radius + 1));
}
cv::Mat dilated(const cv::Mat& m, int radius) {
  cv::Mat out;
  cv::dilate(m, out, disc(std::max(1, radius)));
  return out;
}

// The strip within `reach` px of the selection's half-way line.
Raster<std::uint8_t> stripRound(const Raster<std::uint8_t>& selection, int reach) {
  const cv::Mat in = viewOf(selection) >= 128;
  cv::Mat outer;
  cv::dilate(in, outer, disc(reach));
  cv::Mat depth;
  cv::distanceTransform(in, depth, cv::DIST_L2, cv::DIST_MASK_5);
  const cv::Mat middles = thickMiddles(depth, float(reach));
  Raster<std::uint8_t> band(selection.width(), selection.height());
  for (int y = 0; y < band.height(); ++y) {
    for (int x = 0; x < band.width(); ++x) {
      const bool middle = depth.at<float>(y, x) > float(reach) || middles.at<std::uint8_t>(y, x) != 0;
      *band.at(x, y) = middle ? kSubject : (outer.at<std::uint8_t>(y, x) ? kUndecided : kBackground);
    }
  }
  return band;
}

// Parts of a side (connected) of which less than a fifth would be left stay as they were: colours of a ground that is nearly used
// up come from somewhere else, and then everything looks like subject.
void keepParts(const cv::Mat& before, std::uint8_t side, cv::Mat& after) {
  cv::Mat parts;
  const int count = cv::connectedComponents(before == side, parts, 8, CV_32S);
  std::vector<int> was(std::size_t(count), 0), left(std::size_t(count), 0);
  for (int i = 0; i < int(parts.total()); ++i) {
    const auto g = std::size_t(parts.ptr<int>()[i]);
    ++was[g];
    left[g] += after.data[i] == side;
  }
  for (int i = 0; i < int(parts.total()); ++i) {
    const auto g = std::size_t(parts.ptr<int>()[i]);
    if (g > 0 && was[g] > kGround && left[g] * 5 < was[g]) after.data[i] = before.data[i];
  }
}

// The share of `of` that is set in `found`, around each pixel.
cv::Mat rateOf(const cv::Mat& found, const cv::Mat& of) {
  cv::Mat hits, all, out;
  cv::boxFilter(found & of, hits, CV_32F, cv::Size(kAround, kAround));
  cv::boxFilter(of, all, CV_32F, cv::Size(kAround, kAround));
  cv::divide(hits, cv::max(all, 1.f), out);
  return out;
}

// Opens the strip on one side where a strand or a soft edge runs out of it; where it ran out is returned. Colours alone are
// asked, at the strip's rim: in a solution what leaves the strip is pressed to that side, since its further part counts as such.
// A textured side looks like the other now and then, so the rim is held against what the same question answers further on, where
// nothing of the other is. beyond: how far outside the strip that side's colours come from, px. Just beyond the rim lies what
// runs out, if anything does, and is taken for that side itself; far away there may be another ground.
cv::Mat grow(Raster<std::uint8_t>& band, const Raster<float>& colours, std::uint8_t side, int beyond, base::Executor& executor) {
  const cv::Mat labels = viewOf(band), undecided = labels == kUndecided, decided = labels == side;
  const cv::Mat rim = dilated(decided, 4) & undecided;
  cv::Mat further(labels.size(), CV_8U, cv::Scalar(0));
  Raster<std::uint8_t> wider(band.width(), band.height());
  wider.samples() = band.samples();
  if (beyond > 0) {
    further = dilated(undecided, beyond - 4) & ~dilated(undecided, beyond / 3) & decided;
    cv::Mat view = viewOf(wider);
    view.setTo(kUndecided, dilated(undecided, beyond) & decided);
    keepParts(labels, side, view);
  }
  std::vector<int> pixels;
  for (int i = 0; i < int(rim.total()); ++i) {
    if (rim.data[i] || further.data[i]) pixels.push_back(i);
  }
  const auto evidence = colourEvidence(colours, LocalColours(colours, wider, nullptr, pixels, executor), pixels, executor);
  cv::Mat found(labels.size(), CV_8U, cv::Scalar(0));
  for (std::size_t i = 0; i < pixels.size(); ++i) {
    const float other = side == kBackground ? evidence[i].alpha : 1 - evidence[i].alpha;
    if (evidence[i].confidence > 0 && other > std::max(kLeast, kSignificant * evidence[i].deviation)) found.data[pixels[i]] = 255;
  }
  cv::Mat leaking = found & rim;
  if (beyond > 0) leaking &= rateOf(found, rim) > kOften * rateOf(found, further) + kFew;
  // Single pixels are noise; a strand or a soft edge that runs out leaves several side by side.
  cv::Mat density;
  cv::boxFilter(leaking, density, CV_32F, cv::Size(7, 7));
  cv::Mat out = dilated(leaking & (density > 255.f * kSideBySide / 49), kGrowth) & decided;
  cv::Mat(labels).setTo(kUndecided, out);
  return out;
}

// The strip grown until nothing runs out of it any more. What still does after all growths is no strand: there is a ground whose
// colours come from elsewhere than just beyond the strip, and they are asked instead.
base::Result<Raster<std::uint8_t>> grown(const Raster<std::uint8_t>& strip, const Raster<float>& colours,
                                         base::Executor& executor, const base::Progress& progress) {
  base::StoppableExecutor until(executor, progress.token());
  // Where it still runs out after the last growth.
  const auto grownBy = [&](Raster<std::uint8_t>& band, int beyond, const base::Progress& part) {
    cv::Mat running;
    for (int i = 0; i < kGrowths && !part.cancelled(); ++i) {
      const cv::Mat before = viewOf(band).clone();
      running = grow(band, colours, kBackground, beyond, until);
      if (i < kInwards) grow(band, colours, kSubject, beyond, until);
      part.report((i + 1.0) / kGrowths);
      if (cv::countNonZero(viewOf(band) != before) == 0) break;
    }
    return running;
  };
  Raster<std::uint8_t> band = strip;
  const cv::Mat endless = grownBy(band, kBeyond, progress.part(0, 0.5));
  if (cv::countNonZero(endless) > 0) {
    viewOf(band).setTo(kBackground, dilated(endless, kGrowths * kGrowth) & (viewOf(strip) == kBackground));
    grownBy(band, 0, progress.part(0.5, 1));
  }
  if (progress.cancelled()) return base::cancelledError();
  return band;
}

// What is fractional, without weak specks: a textured ground leaves traces that are nobody's edge.
cv::Mat fractional(const Raster<std::uint8_t>& band, const cv::Mat& a) {
  constexpr float kSpeck = 0.15f;
  const cv::Mat candidates = (a > kFraction) & (a < 1 - kFraction) & (viewOf(band) == kUndecided);
  // A crisp edge between two pixels leaves nothing fractional: the step itself counts.
  cv::Mat in = a >= 0.5f, step;
  cv::morphologyEx(in, step, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
  const cv::Mat all = candidates | step;
  cv::Mat labels;
  const int count = cv::connectedComponents(all, labels, 8, CV_32S);
  std::vector<float> strongest(std::size_t(count), 0.f);
  for (int y = 0; y < a.rows; ++y) {
    for (int x = 0; x < a.cols; ++x) {
      const float v = a.at<float>(y, x), s = step.at<std::uint8_t>(y, x) ? 1.f : std::min(v, 1 - v);
      float& most = strongest[std::size_t(labels.at<int>(y, x))];
      most = std::max(most, s);
    }
  }
  cv::Mat out(a.size(), CV_8U, cv::Scalar(0));
  for (int y = 0; y < a.rows; ++y) {
    for (int x = 0; x < a.cols; ++x) {
      const int l = labels.at<int>(y, x);
      if (l > 0 && strongest[std::size_t(l)] > kSpeck) out.at<std::uint8_t>(y, x) = 255;
    }
  }
  return out;
}

// What stays undecided of a strip, by the alpha that was solved in it. before: the strip as it was before it grew. margin: px of
// the level for px of the picture.
cv::Mat undecidedOf(const Raster<std::uint8_t>& strip, const cv::Mat& before, const cv::Mat& a, const FoundBandOptions& options,
                    const std::function<int(double)>& margin) {
  constexpr float kBody = 0.15f;
  const cv::Mat there = viewOf(strip) == kUndecided;
  // Where strands or softness ran out of the strip, everything fractional counts.
  const cv::Mat ran = dilated(there & (before != kUndecided), kNear), fraction = fractional(strip, a);
  cv::Mat wide;
  cv::morphologyEx(fraction, wide, cv::MORPH_OPEN, disc(2));
  const cv::Mat loose = (dilated(fraction, margin(options.solidMarginPx)) | dilated(wide, margin(options.softMarginPx))) & ran;
  // Elsewhere the edge is crisp until the solution says otherwise by a body of it, not by the traces of a textured ground.
  cv::Mat step, body;
  cv::morphologyEx(a >= 0.5f, step, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
  cv::morphologyEx((a > kBody) & (a < 1 - kBody) & there, body, cv::MORPH_OPEN, disc(2));
  const cv::Mat crisp = dilated(step, margin(options.stepMarginPx)) | dilated(body, margin(options.solidMarginPx));
  return (loose | crisp) & there;
}

}  // namespace

base::Result<image::TiledImage> findBand(const image::TiledImage& picture, const image::TiledImage& selection,
                                         const FoundBandOptions& options, base::Executor& executor,
                                         const base::Progress& progress) {
  HSEAM_TRY(FoundBand found, findBandAndMisses(picture, selection, options, executor, progress));
  return std::move(found.band);
}

base::Result<FoundBand> findBandAndMisses(const image::TiledImage& picture, const image::TiledImage& selection,
                                          const FoundBandOptions& options, base::Executor& executor,
                                          const base::Progress& progress) try {
  CORE_CHECK(picture.size() == selection.size());
  int level = 0;
  while (level + 1 < picture.levelCount() && std::max(picture.size().width, picture.size().height) >> level > kLongest) ++level;
  const double scale = double(1 << level);
  const Rect whole = Rect::of(picture.level(level).size);
  HSEAM_TRY(const Raster<std::uint8_t> chosen, image::read8(selection, level, whole));
  const int selected = cv::countNonZero(viewOf(chosen) >= 128);
  if (selected == 0)
    return base::Error{base::Code::invalid, "", "nothing is selected yet; guess the subject or draw round it first"};
  if (std::size_t(selected) == chosen.pixels())
    return base::Error{base::Code::invalid, "", "everything is selected, so there is no edge"};
  HSEAM_TRY(Raster<float> read, image::readFloat(picture, level, whole));
  const Raster<float> colours = image::rgbOf(std::move(read));
  progress.report(0.05);

  Raster<std::uint8_t> strip = stripRound(chosen, std::max(4, int(std::ceil(options.selectionErrorPx / scale))));
  const cv::Mat before = viewOf(strip).clone();
  HSEAM_TRY(strip, grown(strip, colours, executor, progress.part(0.05, 0.4)));
  // Tips fade below what colours tell: where strands made the strip grow, it grows once more.
  const cv::Mat added = (viewOf(strip) == kUndecided) & (before == kBackground);
  viewOf(strip).setTo(kUndecided, dilated(added, kGrowth + kGrowth / 2) & (viewOf(strip) == kBackground));
  SolveOptions quick;
  quick.tolerance *= 3;
  quick.pressTraces = quick.learned = false;
  HSEAM_TRY(Raster<float> alpha, solveAlpha(colours, strip, quick, executor, progress.part(0.4, 0.7)));
  const cv::Mat wider = viewOf(strip).clone();
  confirmGrowth(before, viewOf(alpha), cv::Mat(before.size(), CV_32FC3, const_cast<float*>(colours.row(0))), viewOf(strip));
  // What was not confirmed has left its traces in the solution of the rest.
  if (cv::countNonZero(viewOf(strip) != wider) > 0) {
    HSEAM_TRY(alpha, solveAlpha(colours, strip, quick, executor, progress.part(0.7, 0.95)));
  }
  const cv::Mat a = viewOf(alpha);
  const cv::Mat undecided =
      undecidedOf(strip, before, a, options, [&](double px) { return int(std::ceil(px / scale)) + (level > 0 ? 1 : 0); });
  Raster<std::uint8_t> band(whole.width, whole.height);
  for (int y = 0; y < whole.height; ++y) {
    for (int x = 0; x < whole.width; ++x)
      *band.at(x, y) = undecided.at<std::uint8_t>(y, x) ? kUndecided : (a.at<float>(y, x) >= 0.5f ? kSubject : kBackground);
  }
  progress.report(0.95);
  FoundBand found;
  for (const Rect& r : missedPlaces(viewOf(strip), a, cv::Mat(before.size(), CV_32FC3, const_cast<float*>(colours.row(0))))) {
    found.missed.push_back(Rect{int(r.x * scale), int(r.y * scale), int(r.width * scale), int(r.height * scale)}.intersected(
        Rect::of(picture.size())));
  }
  HSEAM_TRY(found.band,
            image::tiledFromRows(picture.size(), image::PixelFormat::grey8, picture.memory(), executor, {},
                                 [&](int first, int count, std::byte* rows) -> base::Status {
                                   for (int y = 0; y < count; ++y) {
                                     const std::uint8_t* from = band.row(std::min((first + y) >> level, whole.height - 1));
                                     auto* to = reinterpret_cast<std::uint8_t*>(rows) + std::ptrdiff_t(y) * picture.size().width;
                                     for (int x = 0; x < picture.size().width; ++x)
                                       to[x] = from[std::min(x >> level, whole.width - 1)];
                                   }
                                   return {};
                                 }));
  progress.report(1);
  return found;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::matte
