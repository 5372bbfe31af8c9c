#include "core/select/subject_guess.h"

#include <algorithm>
#include <cmath>
#include <new>
#include <opencv2/imgproc.hpp>

#include "core/select/guided.h"

namespace hseam::select {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

// A correction works on a smaller level: it is asked for stroke by stroke, and what it gets wrong along the outline the finer
// levels put right.
constexpr int kWorkingSide = 720, kCorrectingSide = 540;

int workingLevel(const TiledImage& picture, int side) {
  int n = 0;
  while (n + 1 < picture.levelCount() && std::max(picture.level(n).size.width, picture.level(n).size.height) > side) ++n;
  return n;
}

Raster<float> threeChannels(Raster<float> in) {
  if (in.channels() == 3) return in;
  Raster<float> out(in.width(), in.height(), 3);
  for (std::size_t i = 0; i < out.pixels(); ++i) std::copy_n(in.samples().data() + i * 4, 3, out.samples().data() + i * 3);
  return out;
}

// Without a box or an earlier guess: pixels whose colour lies far from all of the border's colours may be the subject.
void markByBorder(const cv::Mat& lab, cv::Mat& mask) {
  const int rim = std::max(2, std::min(lab.cols, lab.rows) / 40);
  std::vector<cv::Vec3f> border;
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      if (x < rim || y < rim || x >= lab.cols - rim || y >= lab.rows - rim) border.push_back(lab.at<cv::Vec3f>(y, x));
    }
  }
  cv::Mat labels, centres;
  cv::theRNG().state = 1;
  cv::kmeans(cv::Mat(int(border.size()), 3, CV_32F, border.data()), 6, labels, cv::TermCriteria(cv::TermCriteria::COUNT, 12, 0),
             1, cv::KMEANS_PP_CENTERS, centres);
  cv::Mat distance(lab.size(), CV_8U);
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      double nearest = 1e9;
      for (int k = 0; k < centres.rows; ++k)
        nearest = std::min(nearest, cv::norm(lab.at<cv::Vec3f>(y, x), cv::Vec3f(centres.ptr<float>(k))));
      distance.at<std::uint8_t>(y, x) = std::uint8_t(std::min(255.0, nearest * 3));
    }
  }
  cv::GaussianBlur(distance, distance, cv::Size(7, 7), 1.5);
  cv::Mat far;
  cv::threshold(distance, far, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU);
  for (int y = 0; y < lab.rows; ++y) {
    for (int x = 0; x < lab.cols; ++x) {
      const bool rimPixel = x < rim || y < rim || x >= lab.cols - rim || y >= lab.rows - rim;
      mask.at<std::uint8_t>(y, x) = far.at<std::uint8_t>(y, x) ? cv::GC_PR_FGD : (rimPixel ? cv::GC_BGD : cv::GC_PR_BGD);
    }
  }
}

base::Status markHints(const TiledImage& hints, int level, cv::Mat& mask) {
  HSEAM_TRY(const Raster<std::uint8_t> h, image::read8(hints, level, {0, 0, mask.cols, mask.rows}));
  for (int y = 0; y < mask.rows; ++y) {
    for (int x = 0; x < mask.cols; ++x) {
      // Levels average: more than a third of a stroke in the pixel counts.
      if (*h.at(x, y) >= 170) mask.at<std::uint8_t>(y, x) = cv::GC_FGD;
      if (*h.at(x, y) <= 86) mask.at<std::uint8_t>(y, x) = cv::GC_BGD;
    }
  }
  return {};
}

bool hasBoth(const cv::Mat& mask) {
  bool subject = false, background = false;
  for (int y = 0; y < mask.rows; ++y) {
    for (int x = 0; x < mask.cols; ++x) {
      const bool fg = mask.at<std::uint8_t>(y, x) & 1;
      subject |= fg, background |= !fg;
    }
  }
  return subject && background;
}

// Islands far smaller than the largest piece are noise unless the user hinted at them.
void dropSpecks(cv::Mat& subject, const cv::Mat& mask) {
  cv::Mat labels, stats, centres;
  const int n = cv::connectedComponentsWithStats(subject, labels, stats, centres, 8, CV_32S);
  int largest = 0;
  for (int i = 1; i < n; ++i) largest = std::max(largest, stats.at<int>(i, cv::CC_STAT_AREA));
  std::vector<bool> keep(std::size_t(n), false);
  for (int i = 1; i < n; ++i) keep[std::size_t(i)] = stats.at<int>(i, cv::CC_STAT_AREA) >= largest / 200;
  for (int y = 0; y < subject.rows; ++y) {
    for (int x = 0; x < subject.cols; ++x) {
      if (mask.at<std::uint8_t>(y, x) == cv::GC_FGD) keep[std::size_t(labels.at<int>(y, x))] = true;
    }
  }
  keep[0] = false;
  for (int y = 0; y < subject.rows; ++y) {
    for (int x = 0; x < subject.cols; ++x) subject.at<std::uint8_t>(y, x) = keep[std::size_t(labels.at<int>(y, x))] ? 255 : 0;
  }
}

// One level finer: enlarged, then let the finer picture decide along the outline, tile by tile.
base::Result<Raster<std::uint8_t>> finer(const TiledImage& picture, int level, const Raster<std::uint8_t>& coarse,
                                         base::Executor& executor) {
  const base::Size size = picture.level(level).size;
  Raster<std::uint8_t> out(size.width, size.height);
  cv::Mat enlarged(size.height, size.width, CV_8U, out.row(0));
  const cv::Mat c(coarse.height(), coarse.width(), CV_8U, const_cast<std::uint8_t*>(coarse.row(0)));
  cv::resize(c, enlarged, enlarged.size(), 0, 0, cv::INTER_LINEAR);
  const cv::Mat before = enlarged.clone();
  constexpr int kTile = 128, kRadius = 5;
  std::vector<Rect> tiles;
  for (int y = 0; y < size.height; y += kTile) {
    for (int x = 0; x < size.width; x += kTile) {
      const Rect tile = Rect{x, y, kTile, kTile}.intersected(Rect::of(size)), seen = tile.grown(4).intersected(Rect::of(size));
      double low = 0, high = 0;
      cv::minMaxLoc(before(cv::Rect(seen.x, seen.y, seen.width, seen.height)), &low, &high);
      if (low < high) tiles.push_back(tile);
    }
  }
  std::vector<std::optional<base::Error>> errors(tiles.size());
  executor.forEach(int(tiles.size()), [&](int i) {
    const Rect wide = tiles[std::size_t(i)].grown(2 * kRadius);
    auto read = image::readFloat(picture, level, wide);
    if (!read.ok()) {
      errors[std::size_t(i)] = read.error();
      return;
    }
    const Raster<float> guide = threeChannels(std::move(read).value());
    Raster<float> values(wide.width, wide.height);
    for (int y = 0; y < wide.height; ++y) {
      for (int x = 0; x < wide.width; ++x) {
        *values.at(x, y) = float(before.at<std::uint8_t>(std::clamp(wide.y + y, 0, size.height - 1),
                                                         std::clamp(wide.x + x, 0, size.width - 1))) /
                           255.f;
      }
    }
    const Raster<float> filtered = guidedFilter(guide, values, kRadius, 2e-4);
    const Rect& tile = tiles[std::size_t(i)];
    for (int y = tile.y; y < tile.bottom(); ++y) {
      for (int x = tile.x; x < tile.right(); ++x) {
        // The filter softens; a selection wants a clear edge.
        const float v = (*filtered.at(x - wide.x, y - wide.y) - 0.5f) * 2.2f + 0.5f;
        *out.at(x, y) = std::uint8_t(std::lround(std::clamp(v, 0.f, 1.f) * 255));
      }
    }
  });
  for (const auto& e : errors) {
    if (e) return *e;
  }
  return out;
}

}  // namespace

base::Result<CoarseGuess> coarseGuess(const TiledImage& picture, const GuessOptions& options,
                                      const base::Progress& progress) try {
  const int level = workingLevel(picture, options.previous.isNull() ? kWorkingSide : kCorrectingSide);
  const Rect all = Rect::of(picture.level(level).size);
  HSEAM_TRY(Raster<float> read, image::readFloat(picture, level, all));
  const Raster<float> small = threeChannels(std::move(read));
  const cv::Mat rgb(all.height, all.width, CV_32FC3, const_cast<float*>(small.row(0)));
  cv::Mat lab, rgb8;
  cv::cvtColor(rgb, lab, cv::COLOR_RGB2Lab);
  rgb.convertTo(rgb8, CV_8UC3, 255);
  progress.report(0.05);

  cv::Mat mask(all.height, all.width, CV_8U, cv::Scalar(cv::GC_PR_BGD));
  int rounds = 5;
  if (!options.previous.isNull()) {
    HSEAM_TRY(const Raster<std::uint8_t> p, image::read8(options.previous, level, all));
    for (int y = 0; y < all.height; ++y) {
      for (int x = 0; x < all.width; ++x) mask.at<std::uint8_t>(y, x) = *p.at(x, y) >= 128 ? cv::GC_PR_FGD : cv::GC_PR_BGD;
    }
    rounds = 1;  // the mixtures come from what was right already
  } else {
    markByBorder(lab, mask);
  }
  if (options.box) {
    const Rect box = options.box->coarser(level).intersected(all);
    for (int y = 0; y < all.height; ++y) {
      for (int x = 0; x < all.width; ++x) {
        if (!box.contains(x, y)) mask.at<std::uint8_t>(y, x) = cv::GC_BGD;
      }
    }
  }
  if (!options.hints.isNull()) HSEAM_DO(markHints(options.hints, level, mask));
  if (!hasBoth(mask))
    return base::Error{base::Code::invalid, "", "no subject stands out; draw a box round it or paint a hint on it"};
  if (progress.cancelled()) return base::cancelledError();
  try {
    cv::Mat backgroundModel, subjectModel;
    for (int i = 0; i < rounds; ++i) {
      cv::grabCut(rgb8, mask, cv::Rect(), backgroundModel, subjectModel, 1, i == 0 ? cv::GC_INIT_WITH_MASK : cv::GC_EVAL);
      progress.report(0.1 + 0.6 * (i + 1) / rounds);
      if (progress.cancelled()) return base::cancelledError();
    }
  } catch (const cv::Exception&) {
    return base::Error{base::Code::invalid, "", "no subject can be told from its background here; paint a hint on both"};
  }
  cv::Mat subject = (mask & 1) * 255;
  dropSpecks(subject, mask);
  CoarseGuess out{Raster<std::uint8_t>(all.width, all.height), level};
  for (int y = 0; y < all.height; ++y) std::copy_n(subject.ptr<std::uint8_t>(y), all.width, out.subject.row(y));
  return out;
} catch (...) {
  return base::caught();
}

base::Result<TiledImage> guessSubject(const TiledImage& picture, const GuessOptions& options, base::Executor& executor,
                                      const base::Progress& progress) try {
  HSEAM_TRY(CoarseGuess guess, coarseGuess(picture, options, progress));
  const int level = guess.level;
  Raster<std::uint8_t> coverage = std::move(guess.subject);
  for (int n = level - 1; n >= 0; --n) {
    HSEAM_TRY(coverage, finer(picture, n, coverage, executor));
    progress.report(1 - 0.3 * n / std::max(1, level));
    if (progress.cancelled()) return base::cancelledError();
  }
  return image::tiledFromRaster(coverage, image::PixelFormat::grey8, picture.memory(), executor);
} catch (...) {
  return base::caught();
}

}  // namespace hseam::select
