#include "core/frames/registration.h"

#include <algorithm>
#include <cmath>
#include <opencv2/calib3d.hpp>
#include <opencv2/features2d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/frames/dense.h"
#include "core/frames/map_fit.h"
#include "core/frames/patches.h"
#include "core/image/level.h"

namespace hseam::frames {

// Of the private parts below.
struct Features {
  std::vector<cv::KeyPoint> points;
  cv::Mat descriptors;
};

namespace {

using base::Error;
using base::Result;
using image::Raster;
using image::TiledImage;

constexpr double kRecognisePixels = 3.2e5;  // features are looked for on a level of about this size
constexpr double kMiddlePixels = 2e6;       // patches are tracked down to a level of about this size at least
constexpr int kFeatures = 1500;
constexpr float kRatio = 0.8f;  // Lowe 2004: of the best match's distance to the second best's
constexpr int kPlaces = 1600, kLeastLevels = 3;
constexpr std::size_t kLeastMatches = 12, kFewMatches = 40;
constexpr double kNarrow = 0.3;  // of the cells of spreadOf

// Luma of encoded values, 0..1.
Result<Raster<float>> lumaOf(const TiledImage& picture, int level, base::Executor& executor) {
  const base::Size size = picture.level(level).size;
  Raster<float> out(size.width, size.height, 1);
  constexpr int kRows = 128;
  std::vector<base::Status> done(std::size_t((size.height + kRows - 1) / kRows));
  executor.forEach(int(done.size()), [&](int band) {
    const int first = band * kRows, count = std::min(kRows, size.height - first);
    const auto rows = image::readFloat(picture, level, {0, first, size.width, count});
    if (!rows.ok()) {
      done[std::size_t(band)] = rows.error();
      return;
    }
    const std::size_t channels = std::size_t(rows->channels());
    float* to = out.row(first);
    for (std::size_t i = 0; i < rows->pixels(); ++i) {
      const float* p = rows->samples().data() + i * channels;
      to[i] = channels < 3 ? p[0] : 0.2126f * p[0] + 0.7152f * p[1] + 0.0722f * p[2];
    }
  });
  for (const base::Status& s : done) HSEAM_DO(s);
  return out;
}

// px of a level → px of level 0: levels are halved from the top-left corner.
Homography fromLevel(int level) {
  return Homography::scaling(double(1 << level));
}

Features featuresOf(const Raster<float>& luma) {
  constexpr int kLeastSide = 32;  // px; less has no room for features
  if (std::min(luma.width(), luma.height()) < kLeastSide) return {};
  cv::Mat grey(luma.height(), luma.width(), CV_8U);
  for (int y = 0; y < luma.height(); ++y) {
    for (int x = 0; x < luma.width(); ++x)
      grey.at<std::uint8_t>(y, x) = std::uint8_t(std::lround(std::clamp(*luma.at(x, y), 0.f, 1.f) * 255));
  }
  Features f;
  // Dark places of a dark frame are recognised too: contrast is made even (Zuiderveld 1994), and less of it is asked for than
  // usual.
  cv::createCLAHE(3, {8, 8})->apply(grey, grey);
  cv::SIFT::create(kFeatures, 3, 0.008)->detectAndCompute(grey, {}, f.points, f.descriptors);
  return f;
}

double medianOf(std::vector<double> v) {
  if (v.empty()) return 0;
  std::nth_element(v.begin(), v.begin() + long(v.size() / 2), v.end());
  return v[v.size() / 2];
}

// In how many of 8 × 8 cells of a picture there are any of the places, 0..1.
double spreadOf(const std::vector<base::Point>& places, base::Size size) {
  std::array<bool, 64> seen{};
  for (const base::Point& p : places) {
    const int x = std::clamp(int(p.x * 8 / size.width), 0, 7), y = std::clamp(int(p.y * 8 / size.height), 0, 7);
    seen[std::size_t(y) * 8 + std::size_t(x)] = true;
  }
  return double(std::count(seen.begin(), seen.end(), true)) / 64;
}

base::Point placeOf(const cv::KeyPoint& k) {
  return {double(k.pt.x) + 0.5, double(k.pt.y) + 0.5};
}

}  // namespace

struct BaseFrame::Parts {
  TiledImage picture;
  int level = 0;  // on which features are looked for
  Features features;
  Raster<float> few;                // luma of that level
  std::vector<Raster<float>> luma;  // by level, from the full size on
  std::vector<std::vector<base::Point>> places;
};

BaseFrame::BaseFrame(std::unique_ptr<const Parts> parts) : parts_(std::move(parts)) {}
BaseFrame::BaseFrame(BaseFrame&&) noexcept = default;
BaseFrame& BaseFrame::operator=(BaseFrame&&) noexcept = default;
BaseFrame::~BaseFrame() = default;
const TiledImage& BaseFrame::picture() const {
  return parts_->picture;
}

Result<BaseFrame> BaseFrame::of(const TiledImage& picture, base::Executor& executor) {
  auto parts = std::make_unique<Parts>();
  parts->picture = picture;
  parts->level = image::levelOfAtMost(picture, kRecognisePixels);
  HSEAM_TRY(parts->few, lumaOf(picture, parts->level, executor));
  parts->features = featuresOf(parts->few);
  if (parts->features.points.size() < kLeastMatches)
    return Error{base::Code::invalid, "", "nothing in the base frame can be recognised: it is too even or too blurred"};
  const int levels = std::min(picture.levelCount(), std::max(kLeastLevels, image::levelOfAtMost(picture, kMiddlePixels) + 1));
  for (int n = 0; n < levels; ++n) {
    HSEAM_TRY(Raster<float> luma, lumaOf(picture, n, executor));
    parts->places.push_back(distinctPlaces(luma, std::max(kPlaces / 4, kPlaces >> n)));
    parts->luma.push_back(std::move(luma));
  }
  return BaseFrame(std::move(parts));
}

class Registrar {
 public:
  Registrar(const BaseFrame& base, const TiledImage& frame, base::Executor& executor)
      : base_(*base.parts_), frame_(frame), executor_(executor) {}

  Result<Registration> run(const base::Progress& progress) {
    Registration out;
    HSEAM_TRY(std::vector<Homography> guesses, recognise(out));  // base → frame, px of level 0
    if (progress.cancelled()) return base::cancelledError();
    if (guesses.empty()) return out;
    progress.report(0.5);
    std::vector<Raster<float>> luma;
    for (int n = 0; n < int(base_.luma.size()) && n < frame_.levelCount(); ++n) {
      luma.emplace_back();
      HSEAM_TRY(luma.back(), lumaOf(frame_, n, executor_));
    }
    if (progress.cancelled()) return base::cancelledError();
    settle(luma, guesses, out);
    progress.report(1);
    return out;
  }

 private:
  // Where it may lie; nothing: too little is recognised, and `out` says so.
  Result<std::vector<Homography>> recognise(Registration& out) {
    const int level = image::levelOfAtMost(frame_, kRecognisePixels);
    HSEAM_TRY(const Raster<float> few, lumaOf(frame_, level, executor_));
    const Features own = featuresOf(few);
    std::vector<cv::Point2f> from, to;
    if (own.points.size() >= 2) {
      std::vector<std::vector<cv::DMatch>> matches;
      cv::BFMatcher(cv::NORM_L2).knnMatch(base_.features.descriptors, own.descriptors, matches, 2);
      for (const auto& m : matches) {
        if (m.size() < 2 || m[0].distance > kRatio * m[1].distance) continue;
        const base::Point a = placeOf(base_.features.points[std::size_t(m[0].queryIdx)]),
                          b = placeOf(own.points[std::size_t(m[0].trainIdx)]);
        from.emplace_back(float(a.x), float(a.y));
        to.emplace_back(float(b.x), float(b.y));
        matches_.push_back({fromLevel(base_.level).map(a), fromLevel(level).map(b)});
      }
    }
    std::size_t agree = 0;
    std::vector<std::uint8_t> inliers;
    cv::Mat h;
    if (from.size() >= kLeastMatches) {
      h = cv::findHomography(from, to, cv::USAC_MAGSAC, 2, inliers, 5000, 0.9999);
      agree = std::size_t(std::count(inliers.begin(), inliers.end(), 1));
      if (agree < kFewMatches) {
        // Fewer unknowns need fewer matches: most frames are a little shifted and turned, no more.
        const cv::Mat a = cv::estimateAffinePartial2D(from, to, inliers, cv::RANSAC, 2, 20000, 0.9999);
        const auto fewer = std::size_t(std::count(inliers.begin(), inliers.end(), 1));
        if (!a.empty() && fewer >= agree) {
          h = cv::Mat::eye(3, 3, CV_64F);
          a.copyTo(h.rowRange(0, 2));
          agree = fewer;
        }
      }
    }
    std::vector<base::Point> agreed;
    for (std::size_t i = 0; i < inliers.size(); ++i) {
      if (inliers[i]) agreed.push_back({double(from[i].x), double(from[i].y)});
    }
    const double spread = spreadOf(agreed, base_.picture.level(base_.level).size);
    std::vector<Homography> guesses;
    if (!h.empty() && agree >= kLeastMatches) {
      guesses.emplace_back();
      for (std::size_t i = 0; i < 9; ++i) guesses.back().m[i] = h.at<double>(int(i / 3), int(i % 3));
    }
    // Dim, soft or grainy pictures have few features, and are seen to lie on each other all the same: a tripod hardly moves.
    // And a thing that has been carried elsewhere is recognised best of all: what agrees must not lie in one part of the picture
    // alone.
    if ((agree < kFewMatches || spread < kNarrow) && base_.level == level)
      guesses.push_back(refinedFromAfar(base_.few, few, {}, executor_).map);
    if (guesses.empty())
      out.reason =
          "only " + std::to_string(agree) + " places of it are recognised: it shows another place, or too little of this one";
    for (Homography& map : guesses) map = fromLevel(level).after(map).after(fromLevel(base_.level).inverse());
    return guesses;
  }

  // At full size; what is left over decides whether the frame is of use.
  void settle(const std::vector<Raster<float>>& luma, const std::vector<Homography>& guesses, Registration& out) {
    // From the coarsest level on, where a guess is right to a pixel or two; the guess that places all over the picture agree
    // with.
    Homography map;
    double most = -1;
    for (Homography guess : guesses) {
      double spread = 0;
      for (std::size_t n = luma.size(); n-- > std::min<std::size_t>(1, luma.size() - 1);) {
        const std::vector<Pair> near = pairsFrom(luma, n, guess);
        const MapFit fit = fitMap(near, guess, 4 * double(1 << n));
        guess = fit.map;
        std::vector<base::Point> agreed;
        for (std::size_t i = 0; i < fit.fits.size(); ++i) {
          if (fit.fits[i]) agreed.push_back(near[i].from);
        }
        spread = spreadOf(agreed, base_.picture.size()) + 1e-6 * double(agreed.size());
      }
      if (spread > most) map = guess, most = spread;
    }
    const std::vector<Pair> pairs = pairsFrom(luma, 0, map);
    MapFit fit = fitMap(pairs, map, 1.5);
    map = fit.map;
    map = exact(luma, pairs, map, fit);
    out.toBase = map.inverse();
    out.projective = std::abs(map.m[6]) + std::abs(map.m[7]) > 0;
    std::vector<double> kept;
    for (std::size_t i = 0; i < pairs.size(); ++i) {
      out.landmarks.push_back({pairs[i].from, pairs[i].to, pairs[i].sigma, fit.offPx[i], fit.fits[i] != 0});
      if (fit.fits[i]) kept.push_back(fit.offPx[i]);
    }
    out.residualPx = medianOf(kept);
    out.inlierShare = pairs.empty() ? 0 : double(kept.size()) / double(pairs.size());
    judge(out);
  }

  // Fine detail says most where there is any; where noise or blur has taken it, coarser detail still does.
  std::vector<Pair> pairsFrom(const std::vector<Raster<float>>& luma, std::size_t finest, const Homography& map) const {
    std::vector<Pair> pairs;
    for (std::size_t n = finest; n < luma.size(); ++n) {
      const double k = double(1 << n);
      const Homography up = Homography::scaling(k), down = Homography::scaling(1 / k);
      const auto found = tracked(base_.luma[n], base_.places[n], luma[n], down.after(map).after(up), executor_);
      for (std::size_t i = 0; i < found.size(); ++i) {
        if (found[i].found) pairs.push_back({up.map(base_.places[n][i]), up.map(found[i].to), found[i].sigmaPx * k});
      }
    }
    return pairs;
  }

  // With every pixel that stands still, on a level of a size that is worth it. What makes nothing better is not kept.
  Homography exact(const std::vector<Raster<float>>& luma, const std::vector<Pair>& pairs, const Homography& map,
                   MapFit& fit) const {
    std::size_t n = 0;
    while (n + 1 < luma.size() && double(luma[n].pixels()) > kMiddlePixels) ++n;
    const double k = double(1 << n);
    const Homography up = Homography::scaling(k), down = Homography::scaling(1 / k);
    const MapModel model = map.m[6] == 0 && map.m[7] == 0 ? MapModel::similarity : MapModel::homography;
    const Dense best = refined(base_.luma[n], luma[n], down.after(map).after(up), model, executor_);
    if (!(best.change < 0) || best.stillShare < 0.05) return map;
    const Homography out = up.after(best.map).after(down);
    for (std::size_t i = 0; i < pairs.size(); ++i) {
      const base::Point q = out.map(pairs[i].from);
      fit.offPx[i] = std::hypot(q.x - pairs[i].to.x, q.y - pairs[i].to.y);
    }
    return out;
  }

  // By share, and by a grid: with parallax hundreds of places agree on one plane, and whole parts of the picture do not.
  void judge(Registration& out) const {
    constexpr int kGrid = 8;
    constexpr double kLargestResidualPx = 0.25, kLeastShare = 0.45, kMostParallax = 0.15;
    struct Cell {
      int fit = 0, off = 0;
    };
    std::array<Cell, std::size_t(kGrid * kGrid)> cells{};
    const base::Size size = base_.picture.size();
    std::vector<double> sigmas;
    for (const Landmark& l : out.landmarks) sigmas.push_back(l.sigmaPx);
    const double sigma = medianOf(std::move(sigmas)), tolerance = std::max(0.5, 5 * sigma);
    const auto cell = [&](base::Point p) -> Cell& {
      const auto at = [&](double v, int side) { return std::clamp(int(v * kGrid / side), 0, kGrid - 1); };
      return cells[std::size_t(at(p.y, size.height)) * kGrid + std::size_t(at(p.x, size.width))];
    };
    for (const Landmark& l : out.landmarks) (l.offPx < tolerance ? cell(l.base).fit : cell(l.base).off) += 1;
    // What lies farther off than a patch is followed, features still recognise. What is much farther off has itself been moved.
    const Homography toFrame = out.toBase.inverse();
    const double near = std::max(2.0, tolerance), far = 0.025 * size.width;
    for (const auto& [in, there] : matches_) {
      const base::Point q = toFrame.map(in);
      const double off = std::hypot(q.x - there.x, q.y - there.y);
      if (off > near && off < far) ++cell(in).off;
    }
    int seen = 0, good = 0, apart = 0;
    for (const Cell& c : cells) {
      if (c.fit + c.off < 3) continue;
      ++seen;
      good += c.fit >= c.off;
      apart += c.off > c.fit;
    }
    out.parallaxShare = seen > 0 ? double(apart) / seen : 0;
    const auto percent = [](double v) { return std::to_string(int(std::lround(v * 100))) + " %"; };
    int fits = 0;
    std::vector<base::Point> agreed;
    for (const Landmark& l : out.landmarks) {
      if (l.fits) agreed.push_back(l.base);
      fits += l.fits;
    }
    // Frames of a tripod hardly differ in size; things that are carried about do.
    const bool oneSize = std::abs(std::log(driftOf(out.toBase, size).scale)) < 0.1;
    const double onePart = oneSize ? 0.15 : 0.6;
    out.found = fits >= int(kLeastMatches);
    if (!out.found) {
      out.toBase = {};
      out.reason = "only " + std::to_string(fits) + " places lie where the map puts them";
    } else if (spreadOf(agreed, size) < onePart) {
      out.reason = "what agrees lies in one part of the picture: it may be a thing that was moved";
    } else if (out.residualPx > std::max(kLargestResidualPx, 4 * sigma)) {
      out.reason = "places lie " + std::to_string(out.residualPx).substr(0, 4) +
                   " px off in the middle of all: the picture is blurred or bent";
    } else if (out.parallaxShare > kMostParallax) {
      out.reason = percent(out.parallaxShare) + " of the picture lies elsewhere than the rest says: the camera itself was moved";
    } else if (out.inlierShare < kLeastShare || good < 4) {
      out.reason = "only " + percent(out.inlierShare) + " of what is recognised lies on one plane with the base";
    }
    out.use = out.reason.empty();
  }

  const BaseFrame::Parts& base_;
  const TiledImage& frame_;
  base::Executor& executor_;
  std::vector<std::pair<base::Point, base::Point>> matches_;  // features of both that look alike, px of level 0
};

Result<Registration> registered(const BaseFrame& base, const TiledImage& frame, base::Executor& executor,
                                const base::Progress& progress) {
  return Registrar(base, frame, executor).run(progress);
}

}  // namespace hseam::frames
