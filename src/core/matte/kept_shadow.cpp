#include "core/matte/kept_shadow.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <new>
#include <opencv2/imgproc.hpp>
#include <optional>

#include "core/image/lab.h"
#include "core/image/rgb.h"
#include "core/image/transfer.h"

namespace hseam::matte {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kWorkingSide = 900;
constexpr int kTerms = 10;             // of a cubic in x and y
constexpr double kBorder = 0.04;       // of the shorter side: there shadow fades
constexpr double kRoughest = 0.2;      // standard deviation in log light: more is no paper
constexpr double kLeastPaper = 0.1;    // of the picture
constexpr double kSmoothing = 0.0008;  // of the longer side: shadows on paper have no finer detail, noise has

std::array<double, kTerms> terms(double x, double y) {
  return {1, x, y, x * x, x * y, y * y, x * x * x, x * x * y, x * y * y, y * y * y};
}

// The paper's light at a place, x and y from −1 to 1.
struct Paper {
  std::array<Eigen::VectorXd, 3> logLight;
  double at(int c, double x, double y) const {
    const auto t = terms(x, y);
    double sum = 0;
    for (int k = 0; k < kTerms; ++k) sum += logLight[std::size_t(c)][k] * t[std::size_t(k)];
    return std::exp(sum);
  }
};

// The working level: light, and how surely a place is free of the subject.
struct Small {
  int level = 0;
  base::Size size;
  cv::Mat light, free;  // CV_32FC3; CV_32F 0..1
  double across(double x) const { return 2 * x / size.width - 1; }
  double down(double y) const { return 2 * y / size.height - 1; }
};

base::Result<Small> smallOf(const TiledImage& source, const TiledImage& alpha) {
  Small s;
  while (s.level + 1 < source.levelCount() &&
         std::max(source.level(s.level).size.width, source.level(s.level).size.height) > kWorkingSide)
    ++s.level;
  s.size = source.level(s.level).size;
  HSEAM_TRY(Raster<float> read, image::readFloat(source, s.level, Rect::of(s.size)));
  const Raster<float> rgb = image::rgbOf(std::move(read));
  HSEAM_TRY(const Raster<float> a, image::readFloat(alpha, s.level, Rect::of(s.size)));
  s.light = cv::Mat(s.size.height, s.size.width, CV_32FC3);
  cv::Mat covered(s.size.height, s.size.width, CV_32F);
  for (std::size_t i = 0; i < rgb.pixels(); ++i) {
    for (int c = 0; c < 3; ++c)
      s.light.ptr<cv::Vec3f>()[i][c] = std::max(1e-4f, image::fastLinear(rgb.samples()[i * 3 + std::size_t(c)]));
    covered.ptr<float>()[i] = a.samples()[i] > 0.02f ? 1.f : 0.f;
  }
  const int r = std::max(1, std::max(s.size.width, s.size.height) / 150);
  cv::dilate(covered, covered, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * r + 1, 2 * r + 1)));
  s.free = 1 - covered;
  return s;
}

struct Fitted {
  Paper paper;
  cv::Mat isPaper;   // CV_8U: what the fit holds for paper
  double noise = 0;  // standard deviation of log light there
};

// The lighter part of what is free in every cell of a grid: mostly paper.
cv::Mat lighterParts(const Small& s, const cv::Mat& free) {
  constexpr int kCells = 14;
  cv::Mat chosen = cv::Mat::zeros(free.size(), CV_8U);
  for (int cell = 0; cell < kCells * kCells; ++cell) {
    const int cx = cell % kCells, cy = cell / kCells;
    const cv::Rect box(cv::Point(cx * s.size.width / kCells, cy * s.size.height / kCells),
                       cv::Point((cx + 1) * s.size.width / kCells, (cy + 1) * s.size.height / kCells));
    std::vector<float> greens;
    for (int y = box.y; y < box.br().y; ++y) {
      for (int x = box.x; x < box.br().x; ++x) {
        if (free.at<std::uint8_t>(y, x)) greens.push_back(s.light.at<cv::Vec3f>(y, x)[1]);
      }
    }
    if (greens.size() < 8) continue;
    const auto at = greens.begin() + long(greens.size() * 6 / 10);
    std::nth_element(greens.begin(), at, greens.end());
    for (int y = box.y; y < box.br().y; ++y) {
      for (int x = box.x; x < box.br().x; ++x) {
        if (free.at<std::uint8_t>(y, x) && s.light.at<cv::Vec3f>(y, x)[1] >= *at) chosen.at<std::uint8_t>(y, x) = 1;
      }
    }
  }
  return chosen;
}

// Least squares of log light over what is chosen, every `step`-th px. Nothing: too few.
std::optional<Paper> surface(const Small& s, const cv::Mat& chosen, int step) {
  std::array<Eigen::MatrixXd, 3> normal;
  std::array<Eigen::VectorXd, 3> right;
  for (auto& n : normal) n = Eigen::MatrixXd::Identity(kTerms, kTerms) * 1e-6;
  for (auto& v : right) v = Eigen::VectorXd::Zero(kTerms);
  int n = 0;
  for (int i = 0; i < s.size.width * s.size.height; i += step) {
    const int y = i / s.size.width, x = i % s.size.width;
    if (!chosen.at<std::uint8_t>(y, x)) continue;
    ++n;
    const auto t = terms(s.across(x + 0.5), s.down(y + 0.5));
    const Eigen::Map<const Eigen::VectorXd> v(t.data(), kTerms);
    for (std::size_t c = 0; c < 3; ++c) {
      normal[c].noalias() += v * v.transpose();
      right[c] += v * std::log(double(s.light.at<cv::Vec3f>(y, x)[int(c)]));
    }
  }
  if (n < 5 * kTerms) return std::nullopt;
  Paper paper;
  for (std::size_t c = 0; c < 3; ++c) paper.logLight[c] = normal[c].ldlt().solve(right[c]);
  return paper;
}

// Iteratively: what lies clearly below the surface is shadow and lets go of it.
base::Result<Fitted> fittedShadow(const Small& s) {
  constexpr int kRounds = 14;
  Fitted f;
  const cv::Mat free = s.free > 0.5f;
  cv::Mat chosen = lighterParts(s, free);
  const auto residual = [&](int x, int y) {
    double sum = 0;
    for (int c = 0; c < 3; ++c)
      sum += std::log(double(s.light.at<cv::Vec3f>(y, x)[c])) - std::log(f.paper.at(c, s.across(x + 0.5), s.down(y + 0.5)));
    return sum / 3;
  };
  const int step = std::max(1, s.size.width * s.size.height / 60000);
  for (int round = 0; round < kRounds; ++round) {
    auto paper = surface(s, chosen, step);
    if (!paper) return base::Error{base::Code::invalid, "", "too little of the background is to be seen for paper"};
    f.paper = std::move(*paper);
    // The spread above the surface tells the noise: there is no shadow among it.
    std::vector<double> above;
    for (int i = 0; i < s.size.width * s.size.height; i += step) {
      const int y = i / s.size.width, x = i % s.size.width;
      if (!free.at<std::uint8_t>(y, x)) continue;
      if (const double r = residual(x, y); r > 0) above.push_back(r);
    }
    if (above.empty()) break;
    const auto mid = above.begin() + long(above.size() / 2);
    std::nth_element(above.begin(), mid, above.end());
    f.noise = std::max(0.003, *mid / 0.6745);
    for (int y = 0; y < s.size.height; ++y) {
      for (int x = 0; x < s.size.width; ++x)
        chosen.at<std::uint8_t>(y, x) = free.at<std::uint8_t>(y, x) && std::abs(residual(x, y)) < 2.2 * f.noise;
    }
  }
  const double share = cv::countNonZero(chosen) / double(s.size.width * s.size.height);
  if (f.noise > kRoughest || share < kLeastPaper) {
    return base::Error{base::Code::invalid, "", "the subject does not stand on even paper, so its shadow cannot be told from it"};
  }
  f.isPaper = chosen;
  return f;
}

// Fills where weight is 0 from around: halved until all is known, and back (push and pull; Gortler et al. 1996).
cv::Mat filledIn(const cv::Mat& values, const cv::Mat& weight) {
  if (values.cols <= 2 || values.rows <= 2 || cv::countNonZero(weight > 0.999f) == values.cols * values.rows) return values;
  cv::Mat weighted(values.size(), CV_32FC3), half, halfWeight;
  for (int y = 0; y < values.rows; ++y) {
    for (int x = 0; x < values.cols; ++x) weighted.at<cv::Vec3f>(y, x) = values.at<cv::Vec3f>(y, x) * weight.at<float>(y, x);
  }
  const cv::Size size((values.cols + 1) / 2, (values.rows + 1) / 2);
  cv::resize(weighted, half, size, 0, 0, cv::INTER_AREA);
  cv::resize(weight, halfWeight, size, 0, 0, cv::INTER_AREA);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      float& w = halfWeight.at<float>(y, x);
      if (w > 1e-6f) half.at<cv::Vec3f>(y, x) /= w;
      w = std::min(1.f, 4 * w);
    }
  }
  cv::Mat back;
  cv::resize(filledIn(half, halfWeight), back, values.size(), 0, 0, cv::INTER_LINEAR);
  for (int y = 0; y < values.rows; ++y) {
    for (int x = 0; x < values.cols; ++x) {
      const float w = weight.at<float>(y, x);
      back.at<cv::Vec3f>(y, x) = values.at<cv::Vec3f>(y, x) * w + back.at<cv::Vec3f>(y, x) * (1 - w);
    }
  }
  return back;
}

float smooth(float t) {
  t = std::clamp(t, 0.f, 1.f);
  return t * t * (3 - 2 * t);
}

// The shadow at full size, some rows at a time.
struct Rows {
  const TiledImage& source;
  const TiledImage& alpha;
  const Small& small;
  const Fitted& fit;
  cv::Mat below;  // what is filled in under the subject, on the working level
  double sigma = 1, border = 1;
  float noise = 0;
  int margin = 1;

  cv::Vec3f filledAt(int x, int y) const {
    const double sx = (x + 0.5) / (1 << small.level) - 0.5, sy = (y + 0.5) / (1 << small.level) - 0.5;
    const int ix = std::clamp(int(sx), 0, small.size.width - 2), iy = std::clamp(int(sy), 0, small.size.height - 2);
    const auto fx = float(std::clamp(sx - ix, 0.0, 1.0)), fy = float(std::clamp(sy - iy, 0.0, 1.0));
    return (below.at<cv::Vec3f>(iy, ix) * (1 - fx) + below.at<cv::Vec3f>(iy, ix + 1) * fx) * (1 - fy) +
           (below.at<cv::Vec3f>(iy + 1, ix) * (1 - fx) + below.at<cv::Vec3f>(iy + 1, ix + 1) * fx) * fy;
  }

  // Light over paper where the picture is free, and how much of the surroundings is, both smoothed.
  base::Status ratios(const Rect& wide, cv::Mat& values, cv::Mat& weight) const {
    const base::Size size = source.size();
    HSEAM_TRY(Raster<float> read, image::readFloat(source, 0, wide));
    const Raster<float> rgb = image::rgbOf(std::move(read));
    HSEAM_TRY(const Raster<float> a, image::readFloat(alpha, 0, wide));
    for (int y = 0; y < wide.height; ++y) {
      const double v = 2.0 * (wide.y + y + 0.5) / size.height - 1;
      for (int x = 0; x < wide.width; ++x) {
        const double u = 2.0 * (wide.x + x + 0.5) / size.width - 1;
        const float w = *a.at(x, y) > 0.02f ? 0.f : 1.f;
        weight.at<float>(y, x) = w;
        for (int c = 0; c < 3; ++c)
          values.at<cv::Vec3f>(y, x)[c] = w * image::fastLinear(rgb.at(x, y)[c]) / float(fit.paper.at(c, u, v));
      }
    }
    const cv::Size kernel(2 * margin + 1, 2 * margin + 1);
    cv::GaussianBlur(values, values, kernel, sigma, sigma, cv::BORDER_REPLICATE);
    cv::GaussianBlur(weight, weight, kernel, sigma, sigma, cv::BORDER_REPLICATE);
    return {};
  }

  base::Status fill(int first, int count, std::byte* rows) const {
    const base::Size size = source.size();
    const Rect wide = Rect{0, first, size.width, count}.grown(margin);
    cv::Mat values(wide.height, wide.width, CV_32FC3), weight(wide.height, wide.width, CV_32F);
    HSEAM_DO(ratios(wide, values, weight));
    auto* to = reinterpret_cast<std::uint8_t*>(rows);
    for (int y = 0; y < count; ++y) {
      for (int x = 0; x < size.width; ++x, to += 3) {
        // Where hardly anything around is free, what was filled in takes over.
        const float w = weight.at<float>(y + margin, x + margin), own = smooth((w - 0.5f) / 0.45f);
        const cv::Vec3f filled = filledAt(x, first + y);
        const auto edge = float(std::min({x + 0.5, size.width - x - 0.5, first + y + 0.5, size.height - first - y - 0.5}));
        const float inside = smooth(edge / float(border));
        for (int c = 0; c < 3; ++c) {
          const float here = w > 1e-3f ? values.at<cv::Vec3f>(y + margin, x + margin)[c] / w : filled[c];
          const float dark = 1 - (own * here + (1 - own) * filled[c]);
          // Paper within its noise is white; from twice that on shadow keeps its depth.
          const float kept = std::max(0.f, dark) * smooth((dark - 2 * noise) / (3 * noise)) * inside;
          to[c] = std::uint8_t(std::lround(255 * image::fastEncoded(std::max(0.f, 1 - kept))));
        }
      }
    }
    return {};
  }
};

// The paper's colour and unevenness, and each place's light over it.
cv::Mat overPaper(const Small& small, const Paper& paper, KeptShadow& out) {
  cv::Mat ratio(small.light.size(), CV_32FC3);
  double lightest = 0, darkest = INFINITY;
  const auto code = [](double light) { return image::encodedFromLinear(std::min(1.0, light)); };
  for (int y = 0; y < small.size.height; ++y) {
    for (int x = 0; x < small.size.width; ++x) {
      std::array<double, 3> light{};
      for (int c = 0; c < 3; ++c) {
        light[std::size_t(c)] = paper.at(c, small.across(x + 0.5), small.down(y + 0.5));
        ratio.at<cv::Vec3f>(y, x)[c] = std::min(1.f, small.light.at<cv::Vec3f>(y, x)[c] / float(light[std::size_t(c)]));
      }
      const double l = image::labFromEncoded({code(light[0]), code(light[1]), code(light[2])}).l;
      lightest = std::max(lightest, l), darkest = std::min(darkest, l);
    }
  }
  for (int c = 0; c < 3; ++c) out.paper[std::size_t(c)] = code(paper.at(c, 0, 0));
  out.unevenness = lightest - darkest;
  return ratio;
}

// What is left on paper and how deep the shadow is, read back from what was made.
base::Status measure(const Small& small, const Fitted& fit, KeptShadow& out) {
  HSEAM_TRY(const Raster<std::uint8_t> made, image::read8(out.picture, small.level, Rect::of(small.size)));
  double veil = 0;
  int papers = 0;
  std::vector<double> depths;
  for (int y = 0; y < small.size.height; ++y) {
    for (int x = 0; x < small.size.width; ++x) {
      const std::uint8_t* p = made.at(x, y);
      const double l = image::labFromEncoded({p[0] / 255.0, p[1] / 255.0, p[2] / 255.0}).l;
      if (fit.isPaper.at<std::uint8_t>(y, x)) veil += 100 - l, ++papers;
      if (small.free.at<float>(y, x) > 0.5f) depths.push_back(l);
    }
  }
  out.veil = papers > 0 ? veil / papers : 0;
  if (!depths.empty()) {
    const auto at = depths.begin() + long(depths.size() / 100);
    std::nth_element(depths.begin(), at, depths.end());
    out.deepest = *at;
  }
  return {};
}

}  // namespace

base::Result<KeptShadow> keptShadow(const TiledImage& source, const TiledImage& alpha, base::Executor& executor,
                                    const base::Progress& progress) try {
  CORE_CHECK(source.size() == alpha.size());
  HSEAM_TRY(const Small small, smallOf(source, alpha));
  HSEAM_TRY(const Fitted fit, fittedShadow(small));
  progress.report(0.2);
  if (progress.cancelled()) return base::cancelledError();
  KeptShadow out;
  const base::Size size = source.size();
  Rows rows{source, alpha, small, fit, filledIn(overPaper(small, fit.paper, out), small.free)};
  cv::GaussianBlur(rows.below, rows.below, cv::Size(), std::max(1.0, small.size.width / 300.0), 0, cv::BORDER_REPLICATE);
  rows.sigma = std::max(0.6, kSmoothing * std::max(size.width, size.height));
  rows.margin = int(std::ceil(3 * rows.sigma));
  rows.border = kBorder * std::min(size.width, size.height);
  // Smoothing leaves this much of the noise.
  rows.noise = float(fit.noise * (small.level > 0 ? 1.0 : 1 / std::sqrt(4 * M_PI * rows.sigma * rows.sigma)));
  HSEAM_TRY(out.picture, image::tiledFromRows(size, image::PixelFormat::rgb8, source.memory(), executor, progress.part(0.2, 0.9),
                                              [&](int first, int count, std::byte* to) { return rows.fill(first, count, to); }));
  HSEAM_DO(measure(small, fit, out));
  progress.report(1);
  return out;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::matte
