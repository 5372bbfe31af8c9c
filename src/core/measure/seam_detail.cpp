#include "core/measure/seam_detail.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/measure/drawn_anew.h"

namespace hseam::measure {
namespace {

using Detail = SeamSquares::Detail;

constexpr int kSquare = 8;
constexpr float kAways[] = {9, 16, 23};  // px from the outline to a square's middle
constexpr std::size_t kStep = 5;
constexpr std::size_t kFewSquarePairs = 40;
constexpr int kSquareDraws = 60, kSquareStretches = 20;
// Squares with less detail than 8 bits have by themselves say nothing of focus.
constexpr double kNoDetail = 1.5 / 12 / 255 / 255;

// Luma, and what of each px counts, both as floats.
struct Side {
  cv::Mat luma, cover;
};
Side sideOf(const image::Raster<float>& r) {
  Side s{cv::Mat(r.height(), r.width(), CV_32F), cv::Mat(r.height(), r.width(), CV_32F)};
  for (int y = 0; y < r.height(); ++y) {
    for (int x = 0; x < r.width(); ++x) {
      const float* c = r.at(x, y);
      s.luma.ptr<float>(y)[x] = 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
      s.cover.ptr<float>(y)[x] = c[3];
    }
  }
  return s;
}
// What is not covered gives nothing to what is.
void soften(Side& s, double sigma) {
  cv::Mat sum = s.luma.mul(s.cover), weight;
  cv::GaussianBlur(sum, sum, {}, sigma);
  cv::GaussianBlur(s.cover, weight, {}, sigma);
  cv::divide(sum, cv::max(weight, 1e-4), s.luma);
}

// Nothing: not all of the square is of this side.
std::optional<Detail> detailAt(const Side& side, const cv::Mat& own, bool covered, float px, float py) {
  const int left = int(px) - kSquare / 2, top = int(py) - kSquare / 2;
  if (left < 0 || top < 0 || left + kSquare > own.cols || top + kSquare > own.rows) return std::nullopt;
  for (int y = top; y < top + kSquare; ++y) {
    const float *a = own.ptr<float>(y), *there = side.cover.ptr<float>(y), *l = side.luma.ptr<float>(y);
    for (int x = left; x < left + kSquare; ++x) {
      if (covered ? a[x] < 0.98f : a[x] > 0.01f || there[x] < 0.98f) return std::nullopt;
      if (l[x] < 0.01f || l[x] > 0.985f) return std::nullopt;  // clipped tones have lost their noise
    }
  }
  Detail d;
  float means[4][4];
  for (int v = 0; v < 4; ++v) {
    const float *upper = side.luma.ptr<float>(top + 2 * v) + left, *lower = side.luma.ptr<float>(top + 2 * v + 1) + left;
    for (int u = 0; u < 4; ++u) {
      const float a = upper[2 * u], b = upper[2 * u + 1], c = lower[2 * u], e = lower[2 * u + 1];
      d.diagonal += (a - b - c + e) * (a - b - c + e) / 4 / 16;
      d.fine += ((a - b + c - e) * (a - b + c - e) + (a + b - c - e) * (a + b - c - e)) / 8 / 16;
      means[v][u] = (a + b + c + e) / 4;
    }
  }
  for (int v = 0; v < 4; v += 2) {
    for (int u = 0; u < 4; u += 2) {
      const float a = means[v][u], b = means[v][u + 1], c = means[v + 1][u], e = means[v + 1][u + 1];
      d.coarse += ((a - b + c - e) * (a - b + c - e) + (a + b - c - e) * (a + b - c - e)) / 8 / 4;
    }
  }
  return d;
}

SeamSquares squaresOf(const Side& own, const Side& scene, const std::vector<OutlinePlace>& outline) {
  SeamSquares s;
  for (std::size_t i = 0; i < outline.size(); i += kStep) {
    const OutlinePlace& p = outline[i];
    for (const float away : kAways) {
      const auto inside = detailAt(own, own.cover, true, p.x - away * p.nx, p.y - away * p.ny);
      const auto outside = inside ? detailAt(scene, own.cover, false, p.x + away * p.nx, p.y + away * p.ny) : std::nullopt;
      if (!outside) continue;
      s.inside.push_back(*inside);
      s.outside.push_back(*outside);
    }
  }
  return s;
}

std::vector<std::size_t> everyOne(std::size_t count) {
  std::vector<std::size_t> all(count);
  for (std::size_t i = 0; i < count; ++i) all[i] = i;
  return all;
}

// The spread of what f says of stretches of the outline drawn anew.
template <class F>
double spreadOfSquares(std::size_t count, double middle, const F& f) {
  DrawnAnew drawn(count, kSquareStretches, 11);
  double squares = 0;
  for (int k = 0; k < kSquareDraws; ++k) {
    const std::vector<std::size_t> of = drawn.next();
    squares += std::pow(f(of) - middle, 2) / kSquareDraws;
  }
  return std::sqrt(squares);
}

double middleSquare(std::vector<float> v) {
  return double(quantile(std::move(v), 0.5));
}

// Texture has so much less along diagonals than across and down, noise has not: what the inside has along diagonals over what its
// other detail explains by the outside's proportion.
double noiseByProportion(const SeamSquares& s, const std::vector<std::size_t>& of) {
  std::vector<float> proportions, more;
  for (const std::size_t i : of) {
    if (s.outside[i].fine > 0) proportions.push_back(s.outside[i].diagonal / s.outside[i].fine);
  }
  const double p = std::clamp(middleSquare(std::move(proportions)), 0.0, 0.9);
  more.reserve(of.size());
  for (const std::size_t i : of) more.push_back(float((double(s.inside[i].diagonal) - p * double(s.inside[i].fine)) / (1 - p)));
  // What the outside's own scatter makes of the same.
  std::vector<float> own;
  own.reserve(of.size());
  for (const std::size_t i : of) own.push_back(float((double(s.outside[i].diagonal) - p * double(s.outside[i].fine)) / (1 - p)));
  return middleSquare(std::move(more)) - middleSquare(std::move(own));
}

// Squares of like coarse detail, by its rank among both sides'.
constexpr int kClasses = 6;
double noiseByClass(const SeamSquares& s, const std::vector<std::size_t>& of) {
  std::vector<float> borders;
  for (const std::size_t i : of) borders.push_back(s.inside[i].coarse), borders.push_back(s.outside[i].coarse);
  std::sort(borders.begin(), borders.end());
  std::vector<float> in[kClasses], out[kClasses];
  const auto classOf = [&](float v) {
    const auto rank = std::lower_bound(borders.begin(), borders.end(), v) - borders.begin();
    return std::min(kClasses - 1, int(rank * kClasses / long(borders.size())));
  };
  for (const std::size_t i : of) {
    in[classOf(s.inside[i].coarse)].push_back(s.inside[i].diagonal);
    out[classOf(s.outside[i].coarse)].push_back(s.outside[i].diagonal);
  }
  // The less detail, the surer.
  double sum = 0, weight = 0;
  for (int k = 0; k < kClasses; ++k) {
    if (in[k].size() < 5 || out[k].size() < 5) continue;
    const double a = middleSquare(in[k]), b = middleSquare(out[k]),
                 w = double(std::min(in[k].size(), out[k].size())) / std::pow(a + b + kNoDetail, 2);
    sum += w * (a - b), weight += w;
  }
  return weight > 0 ? sum / weight : 0;
}

// How much fine detail there is for what is coarse, inside against outside: 0 if they are alike.
double crispness(const SeamSquares& s, const std::vector<std::size_t>& of) {
  std::vector<float> fine[2], coarse[2];
  for (const std::size_t i : of) {
    fine[0].push_back(s.inside[i].fine), coarse[0].push_back(s.inside[i].coarse);
    fine[1].push_back(s.outside[i].fine), coarse[1].push_back(s.outside[i].coarse);
  }
  double sum = 0;
  constexpr double kQuantiles[] = {0.5, 0.6, 0.7, 0.8, 0.9};
  for (const double share : kQuantiles) {
    const auto logOf = [&](std::vector<float> v) { return std::log(double(quantile(std::move(v), share)) + kNoDetail); };
    sum += logOf(fine[0]) - logOf(coarse[0]) - logOf(fine[1]) + logOf(coarse[1]);
  }
  return sum / double(std::size(kQuantiles));
}

}  // namespace

SeamSquares squaresAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                          const std::vector<OutlinePlace>& outline) {
  return squaresOf(sideOf(own), sideOf(scene), outline);
}

double mostNoise(const std::vector<Detail>& squares) {
  // White noise alone: sixteen differences a square, of which a tenth of the squares show less than this share (chi square).
  constexpr double kTenth = 0.582;
  std::vector<float> v;
  v.reserve(squares.size());
  for (const Detail& d : squares) v.push_back(d.diagonal);
  if (v.empty()) return 1;
  return std::sqrt(double(quantile(std::move(v), 0.1)) / kTenth);
}

Reading noiseAcross(const SeamSquares& s) {
  if (s.inside.size() < kFewSquarePairs) return unavailable("too little of the seam can be compared");
  // Two ways, each sure where the other is not: on plain surfaces, and on texture.
  const auto by = [&](double (*noiseOf)(const SeamSquares&, const std::vector<std::size_t>&)) {
    const double noise = noiseOf(s, everyOne(s.inside.size()));
    return available(noise, spreadOfSquares(s.inside.size(), noise, [&](const auto& of) { return noiseOf(s, of); }));
  };
  const Reading byClass = by(noiseByClass), byProportion = by(noiseByProportion);
  return byClass.spread < byProportion.spread ? byClass : byProportion;
}

Reading blurAcross(const image::Raster<float>& own, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline) {
  constexpr double kSure = 3;
  const Side inside = sideOf(own), outside = sideOf(scene);
  const SeamSquares asIs = squaresOf(inside, outside, outline);
  if (asIs.inside.size() < kFewSquarePairs) return unavailable("too little of the seam can be compared");
  std::vector<float> detail;
  for (const Detail& d : asIs.outside) detail.push_back(d.coarse);
  if (double(quantile(detail, 0.8)) < 4 * kNoDetail) return unavailable("there is no detail along the seam");
  const double crisp = crispness(asIs, everyOne(asIs.inside.size()));
  const double spread = spreadOfSquares(asIs.inside.size(), crisp, [&](const auto& of) { return crispness(asIs, of); });
  if (std::abs(crisp) < kSure * spread) return available(0, spread);
  // Softened until both are alike.
  const bool softer = crisp < 0;
  double before = crisp, at = 0;
  for (const double sigma : {0.3, 0.45, 0.6, 0.8, 1.0, 1.3, 1.7, 2.2, 3.0}) {
    Side moved = softer ? outside : inside;
    moved.luma = moved.luma.clone();
    soften(moved, sigma);
    const SeamSquares s = softer ? squaresOf(inside, moved, outline) : squaresOf(moved, outside, outline);
    const double now = s.inside.size() < kFewSquarePairs ? before : crispness(s, everyOne(s.inside.size()));
    if (now * crisp <= 0) {
      const double found = at + (sigma - at) * std::abs(before) / std::max(1e-9, std::abs(before) + std::abs(now));
      return available(softer ? found : -found, found * spread / std::abs(crisp));
    }
    before = now, at = sigma;
  }
  return available(softer ? at : -at, at * spread / std::abs(crisp));
}

Reading sharpeningAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                         const std::vector<OutlinePlace>& outline, double sigmaPx) {
  const Side inside = sideOf(own), outside = sideOf(scene);
  Side soft = inside;
  soft.luma = soft.luma.clone();
  soften(soft, sigmaPx);
  double before = -1, at = 0;
  for (const double amount : {0.0, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0}) {
    Side crisp = inside;
    crisp.luma = (1 + amount) * inside.luma - amount * soft.luma;
    const SeamSquares s = squaresOf(crisp, outside, outline);
    if (s.inside.size() < kFewSquarePairs) return unavailable("too little of the seam can be compared");
    const double now = crispness(s, everyOne(s.inside.size()));
    if (now >= 0) return available(amount <= 0 ? 0 : at + (amount - at) * before / (before - now), 0.1);
    before = now, at = amount;
  }
  return available(at, 1);
}

}  // namespace hseam::measure
