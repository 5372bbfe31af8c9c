#include "core/matte/edge_shape.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <new>
#include <opencv2/imgproc.hpp>

#include "core/matte/along.h"
#include "core/matte/nearest_place.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kShapeReach = 64, kFade = 12;  // px across
constexpr int kMost = 64;                    // px that a pixel is read away from itself
constexpr double kChange = 8;                // px along, over which shapes change into one another (one sigma)
constexpr double kHairReach = 28;            // px: how far strands are taken to go to each side

// What acts at each place.
struct Acting {
  std::vector<double> offset, width, tail, pivot, transition;
};

bool neutral(const Acting& a, int i) {
  const auto k = std::size_t(i);
  return std::abs(a.offset[k]) < 1e-3 && std::abs(a.width[k] - 1) < 1e-3 && std::abs(a.tail[k]) < 1e-3;
}

// How far a smoothed edge lies outwards of the edge, which itself lies `mid` outwards of the places. Smoothing shrinks what is
// round; applied twice and taken off, it does so only in the fourth order ("twicing", Tukey 1977).
std::vector<double> rounding(const Unrolled& outline, const std::vector<double>& mid, double sigma) {
  std::vector<double> x, y;
  for (std::size_t i = 0; i < mid.size(); ++i) {
    const auto& p = outline.places[i];
    x.push_back(p.at.x + p.outward.x * mid[i]);
    y.push_back(p.at.y + p.outward.y * mid[i]);
  }
  const auto sx = smoothedAlong(outline, x, sigma), sy = smoothedAlong(outline, y, sigma);
  const auto ssx = smoothedAlong(outline, sx, sigma), ssy = smoothedAlong(outline, sy, sigma);
  std::vector<double> out(x.size());
  for (std::size_t i = 0; i < x.size(); ++i) {
    const auto& n = outline.places[i].outward;
    out[i] = (2 * sx[i] - ssx[i] - x[i]) * n.x + (2 * sy[i] - ssy[i] - y[i]) * n.y;
  }
  return out;
}

base::Result<Acting> actingOn(const Unrolled& outline, const TiledImage& alpha, const EdgePlan& plan) {
  const std::size_t count = outline.places.size();
  std::vector<double> mid;
  HSEAM_TRY(const auto forms, edgeForms(outline, 0, int(count), alpha, &mid));
  std::vector<EdgeShape> shape(count);
  std::vector<EdgeKind> kind(count);
  for (std::size_t i = 0; i < count; ++i) kind[i] = forms[i].kind;
  std::vector<std::optional<EdgeShape>> marked(count);
  for (const MarkedStretch& s : plan.stretches) {
    const auto on = placesOn(outline, s);
    for (std::size_t i = 0; i < count; ++i) {
      if (!on[i]) continue;
      if (s.kind) kind[i] = *s.kind;
      if (s.shape) marked[i] = s.shape;
    }
  }
  std::vector<double> round(count, 0);
  Acting a;
  for (auto* v : {&a.offset, &a.width, &a.tail, &a.pivot, &a.transition}) v->resize(count);
  double most = 0;
  for (std::size_t i = 0; i < count; ++i) {
    const EdgeShape& s = marked[i] ? *marked[i] : plan.byKind[std::size_t(kind[i])];
    a.offset[i] = s.offsetPx;
    a.width[i] = std::log(s.width);
    a.tail[i] = s.tail;
    round[i] = s.roundPx;
    most = std::max(most, s.roundPx);
    // Strands have no one half-way point.
    a.pivot[i] = kind[i] == EdgeKind::hair ? 0 : mid[i];
    a.transition[i] = kind[i] == EdgeKind::hair ? kHairReach : std::max(4.0, double(forms[i].softnessPx));
  }
  for (auto* v : {&a.offset, &a.width, &a.tail}) *v = smoothedAlong(outline, *v, kChange);
  for (double& w : a.width) w = std::exp(w);
  if (most > 0) {
    // Where different roundings meet, each place takes its share of the strongest.
    const auto whole = rounding(outline, a.pivot, most / 2);
    const auto share = smoothedAlong(outline, round, kChange);
    for (std::size_t i = 0; i < count; ++i) a.offset[i] += whole[i] * std::min(1.0, share[i] / most);
  }
  a.pivot = smoothedAlong(outline, a.pivot, 2);
  return a;
}

double cubic(double t) {
  t = std::abs(t);
  if (t < 1) return 1 + t * t * (1.5 * t - 2.5);
  return t < 2 ? 2 + t * (-4 + t * (2.5 - 0.5 * t)) : 0;
}

// x, y: px of the raster, pixel centres at halves.
double sampled(const Raster<std::uint8_t>& r, double x, double y) {
  const double fx = x - 0.5, fy = y - 0.5;
  const int x0 = int(std::floor(fx)), y0 = int(std::floor(fy));
  double sum = 0;
  double wx[4];
  for (int k = 0; k < 4; ++k) wx[k] = cubic(fx - (x0 - 1 + k));
  for (int j = 0; j < 4; ++j) {
    const std::uint8_t* row = r.row(std::clamp(y0 - 1 + j, 0, r.height() - 1));
    double line = 0;
    for (int k = 0; k < 4; ++k) line += wx[k] * row[std::clamp(x0 - 1 + k, 0, r.width() - 1)];
    sum += cubic(fy - (y0 - 1 + j)) * line;
  }
  return sum / 255;
}

double tailed(double a, double tail) {
  return a <= 0 || a >= 1 || tail == 0 ? a : std::pow(a, std::exp2(-1.5 * tail));
}

// One tile, or nothing where no shape acts.
base::Result<std::vector<std::uint8_t>> shapedTile(const TiledImage& alpha, const Rect& tile, const Unrolled& outline,
                                                   const NearestPlace& index, const Acting& acting) {
  const auto near = index.within(tile.grown(kShapeReach));
  if (std::all_of(near.begin(), near.end(), [&](int i) { return neutral(acting, i); })) return std::vector<std::uint8_t>{};
  const Raster<int> nearest = index.of(tile, kShapeReach);
  const Rect around = tile.grown(kMost + 2);
  HSEAM_TRY(const Raster<std::uint8_t> old, image::read8(alpha, 0, around));
  std::vector<std::uint8_t> out(image::kTilePixels, 0);
  for (int y = 0; y < tile.height; ++y) {
    for (int x = 0; x < tile.width; ++x) {
      std::uint8_t& to = out[std::size_t(y) * image::kTileSide + std::size_t(x)];
      to = *old.at(x + kMost + 2, y + kMost + 2);
      const int i = *nearest.at(x, y);
      if (i < 0 || neutral(acting, i)) continue;
      const auto k = std::size_t(i);
      const double px = tile.x + x + 0.5, py = tile.y + y + 0.5;
      const auto& place = outline.places[k];
      const double s = acrossAt(place, px, py).outwards - acting.pivot[k], moved = s - acting.offset[k];
      double from = moved / acting.width[k];
      // Beyond the transition all is covered or nothing is: reading further away would meet another edge.
      if (acting.width[k] < 1)
        from = std::copysign(std::min(std::abs(from), std::max(std::abs(moved), acting.transition[k])), from);
      const double fade = std::clamp((kShapeReach - std::abs(s)) / kFade, 0.0, 1.0);
      const double away = std::clamp((from - s) * fade, double(-kMost), double(kMost));
      const double a =
          std::clamp(sampled(old, px + place.outward.x * away - around.x, py + place.outward.y * away - around.y), 0.0, 1.0);
      to = std::uint8_t(std::lround(255 * tailed(a, acting.tail[k] * fade)));
    }
  }
  return out;
}

// Islands and pinholes up to an area, in the box that holds all that is fractional.
base::Result<TiledImage> withoutSpecks(const TiledImage& alpha, int area, base::Executor& executor) {
  const Rect whole = Rect::of(alpha.size());
  HSEAM_TRY(Raster<std::uint8_t> a, image::read8(alpha, 0, whole));
  cv::Mat view(a.height(), a.width(), CV_8U, a.row(0));
  Rect changed;
  for (const bool holes : {false, true}) {
    const cv::Mat parts = holes ? cv::Mat(view < 250) : cv::Mat(view > 5);
    cv::Mat labels, stats, centres;
    const int count = cv::connectedComponentsWithStats(parts, labels, stats, centres, 8, CV_32S);
    for (int l = 1; l < count; ++l) {
      if (stats.at<int>(l, cv::CC_STAT_AREA) > area) continue;
      const cv::Rect box(stats.at<int>(l, cv::CC_STAT_LEFT), stats.at<int>(l, cv::CC_STAT_TOP),
                         stats.at<int>(l, cv::CC_STAT_WIDTH), stats.at<int>(l, cv::CC_STAT_HEIGHT));
      view(box).setTo(holes ? 255 : 0, labels(box) == l);
      changed = changed.united({box.x, box.y, box.width, box.height});
    }
  }
  if (changed.empty()) return alpha;
  Raster<std::uint8_t> part(changed.width, changed.height);
  for (int y = 0; y < part.height(); ++y) std::copy_n(a.at(changed.x, changed.y + y), changed.width, part.row(y));
  return image::withPixels(alpha, changed, part, executor);
}

}  // namespace

base::Result<TiledImage> shapedAlpha(const TiledImage& alpha, const EdgePlan& plan, base::Executor& executor,
                                     const base::Progress& progress) try {
  CORE_CHECK(alpha.format() == image::PixelFormat::grey8);
  if (!plan.shapes()) return alpha;
  HSEAM_TRY(const Unrolled outline, unrolled(alpha));
  progress.report(0.1);
  HSEAM_TRY(const Acting acting, actingOn(outline, alpha, plan));
  progress.report(0.2);
  const NearestPlace index(outline, alpha.size());
  const auto& level = alpha.level(0);
  const int tiles = level.columns * level.rows;
  std::vector<std::vector<std::uint8_t>> shaped(static_cast<std::size_t>(tiles));
  std::vector<base::Status> done(static_cast<std::size_t>(tiles));
  executor.forEach(tiles, [&](int t) {
    if (progress.cancelled()) return;
    constexpr int kSide = image::kTileSide;
    const Rect tile =
        Rect{t % level.columns * kSide, t / level.columns * kSide, kSide, kSide}.intersected(Rect::of(alpha.size()));
    auto made = shapedTile(alpha, tile, outline, index, acting);
    if (made.ok()) {
      shaped[std::size_t(t)] = std::move(made).value();
    } else {
      done[std::size_t(t)] = made.error();
    }
  });
  if (progress.cancelled()) return base::cancelledError();
  image::ImageEditor editor(alpha);
  for (int t = 0; t < tiles; ++t) {
    HSEAM_DO(done[std::size_t(t)]);
    const auto& made = shaped[std::size_t(t)];
    if (made.empty()) continue;
    HSEAM_TRY(std::byte* const to, editor.tile(t % level.columns, t / level.columns));
    std::memcpy(to, made.data(), made.size());
  }
  HSEAM_TRY(const TiledImage out, std::move(editor).commit(executor));
  progress.report(0.9);
  return plan.specksPx > 0 ? withoutSpecks(out, plan.specksPx, executor) : base::Result<TiledImage>(out);
} catch (...) {
  return base::caught();
}

base::Result<double> widthAsCrispAs(const Unrolled& outline, int first, int count, const TiledImage& alpha) {
  HSEAM_TRY(const auto forms, edgeForms(outline, 0, int(outline.places.size()), alpha));
  std::vector<float> all, here;
  for (int i = 0; i < int(forms.size()); ++i) {
    const EdgeReading& r = forms[std::size_t(i)];
    if (r.softnessPx <= 0 || r.kind == EdgeKind::hair) continue;
    all.push_back(r.softnessPx);
    if (i >= first && i < first + count) here.push_back(r.softnessPx);
  }
  if (here.empty()) return 1.0;
  const auto quantile = [](std::vector<float>& v, double q) {
    const auto at = v.begin() + std::ptrdiff_t(q * double(v.size() - 1));
    std::nth_element(v.begin(), at, v.end());
    return double(*at);
  };
  return std::clamp(quantile(all, 0.05) / quantile(here, 0.5), 0.1, 1.0);
}

}  // namespace hseam::matte
