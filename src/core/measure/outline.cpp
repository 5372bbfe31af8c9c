#include "core/measure/outline.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::measure {
namespace {

constexpr int kOutlineReach = 14;  // px to each side

cv::Mat coverageOf(const image::Raster<float>& colours) {
  cv::Mat m(colours.height(), colours.width(), CV_32F);
  for (int y = 0; y < m.rows; ++y) {
    for (int x = 0; x < m.cols; ++x) m.ptr<float>(y)[x] = colours.at(x, y)[3];
  }
  return m;
}

float sampled(const cv::Mat& m, float x, float y) {
  const float px = std::clamp(x - 0.5f, 0.f, float(m.cols - 1)), py = std::clamp(y - 0.5f, 0.f, float(m.rows - 1));
  const int ix = std::min(int(px), m.cols - 2), iy = std::min(int(py), m.rows - 2);
  const float fx = px - float(ix), fy = py - float(iy);
  const float *a = m.ptr<float>(iy), *b = m.ptr<float>(iy + 1);
  return (a[ix] * (1 - fx) + a[ix + 1] * fx) * (1 - fy) + (b[ix] * (1 - fx) + b[ix + 1] * fx) * fy;
}

// 10–90 % width along the normal; 0 where coverage does not fall once and wholly.
float widthAt(const cv::Mat& cover, const OutlinePlace& p) {
  constexpr float kStep = 0.25f;
  float high = NAN, low = NAN, before = sampled(cover, p.x - p.nx * kOutlineReach, p.y - p.ny * kOutlineReach);
  if (before < 0.95f) return 0;
  float rises = 0;
  for (int k = 1; k <= int(2 * kOutlineReach / kStep); ++k) {
    const float d = kStep * float(k) - kOutlineReach;
    const float v = sampled(cover, p.x + p.nx * d, p.y + p.ny * d);
    if (v > before) rises += v - before;
    const auto crossing = [&](float level) { return d - kStep + kStep * (before - level) / std::max(1e-6f, before - v); };
    if (std::isnan(high) && before >= 0.9f && v < 0.9f) high = crossing(0.9f);
    if (before >= 0.1f && v < 0.1f) low = crossing(0.1f);
    before = v;
  }
  if (rises > 0.15f || std::isnan(high) || std::isnan(low) || before > 0.05f) return 0;
  // A pixel's area and reading between pixels widen every edge alike: their variances are taken out.
  constexpr float kOwn = 2.563f * 2.563f * (1.f / 12 + 1.f / 6);
  const float width = low - high;
  return std::sqrt(std::max(0.04f, width * width - kOwn));
}

}  // namespace

std::vector<OutlinePlace> outlineOf(const image::Raster<float>& colours) {
  const cv::Mat cover = coverageOf(colours);
  cv::Mat half = cover > 0.5f;
  std::vector<std::vector<cv::Point>> contours;
  cv::findContours(half, contours, cv::RETR_LIST, cv::CHAIN_APPROX_NONE);
  std::vector<OutlinePlace> out;
  for (const auto& c : contours) {
    const int n = int(c.size());
    if (n < 24) continue;
    for (int i = 0; i < n; ++i) {
      constexpr int kSmooth = 7;
      const cv::Point &before = c[std::size_t((i - kSmooth + 2 * n) % n)], &after = c[std::size_t((i + kSmooth) % n)];
      float tx = float(after.x - before.x), ty = float(after.y - before.y);
      const float length = std::hypot(tx, ty);
      if (length < 2) continue;
      tx /= length, ty /= length;
      OutlinePlace p{float(c[std::size_t(i)].x) + 0.5f, float(c[std::size_t(i)].y) + 0.5f, ty, -tx, 0};
      if (p.x < 2 || p.y < 2 || p.x > float(cover.cols - 2) || p.y > float(cover.rows - 2)) continue;  // cut off by the canvas
      if (sampled(cover, p.x + 2 * p.nx, p.y + 2 * p.ny) > sampled(cover, p.x - 2 * p.nx, p.y - 2 * p.ny))
        p.nx = -p.nx, p.ny = -p.ny;
      p.widthPx = widthAt(cover, p);
      out.push_back(p);
    }
  }
  return out;
}

Reading softnessOf(const std::vector<OutlinePlace>& outline) {
  std::vector<float> widths;
  for (const OutlinePlace& p : outline) {
    if (p.widthPx > 0) widths.push_back(p.widthPx);
  }
  if (widths.size() < 40 || widths.size() * 3 < outline.size()) return unavailable("most of its outline is no single edge");
  const double mid = double(quantile(widths, 0.5));
  return available(mid, double(quantile(widths, 0.75) - quantile(widths, 0.25)) / 1.35 / std::sqrt(double(widths.size()) / 20));
}

std::vector<Leftover> leftoversOf(const image::Raster<float>& colours) {
  constexpr double kBodyShare = 0.01;
  const cv::Mat cover = coverageOf(colours);
  std::vector<Leftover> out;
  const double all = cv::sum(cover)[0];
  for (const bool hole : {false, true}) {
    cv::Mat pieces = hole ? cv::Mat(cover < 0.9f) : cv::Mat(cover > 0.1f), labels, stats, middles;
    const int n = cv::connectedComponentsWithStats(pieces, labels, stats, middles, hole ? 4 : 8, CV_32S);
    cv::Mat bodies = cv::Mat::zeros(cover.size(), CV_8U);
    std::vector<bool> body(std::size_t(n), false);
    for (int k = 1; k < n; ++k) {
      const cv::Rect r(stats.at<int>(k, 0), stats.at<int>(k, 1), stats.at<int>(k, 2), stats.at<int>(k, 3));
      const bool touches = r.x == 0 || r.y == 0 || r.br().x == cover.cols || r.br().y == cover.rows;
      body[std::size_t(k)] = stats.at<int>(k, cv::CC_STAT_AREA) >= kBodyShare * all || touches;
    }
    for (int y = 0; y < cover.rows; ++y) {
      for (int x = 0; x < cover.cols; ++x) bodies.ptr<std::uint8_t>(y)[x] = body[std::size_t(labels.ptr<int>(y)[x])] ? 255 : 0;
    }
    // Hair: fractional coverage over an area and not along a line.
    cv::Mat fractional = (cover > 0.05f) & (cover < 0.95f), dense, away;
    fractional.convertTo(dense, CV_32F, 1.0 / 255);
    cv::blur(dense, dense, {9, 9});
    cv::distanceTransform(bodies == 0, away, cv::DIST_L2, 3);
    for (int k = 1; k < n; ++k) {
      if (body[std::size_t(k)]) continue;
      const cv::Rect r(stats.at<int>(k, 0), stats.at<int>(k, 1), stats.at<int>(k, 2), stats.at<int>(k, 3));
      double area = 0, nearest = 1e9, hair = 0;
      for (int y = r.y; y < r.br().y; ++y) {
        for (int x = r.x; x < r.br().x; ++x) {
          if (labels.ptr<int>(y)[x] != k) continue;
          area += hole ? 1 - double(cover.ptr<float>(y)[x]) : double(cover.ptr<float>(y)[x]);
          nearest = std::min(nearest, double(away.ptr<float>(y)[x]));
          hair = std::max(hair, double(dense.ptr<float>(y)[x]));
        }
      }
      const bool strand = hole ? hair > 0.35 : (nearest <= 4 && hair > 0.35) || (hair > 0.6 && area < 40);
      if (!strand && area > 0) out.push_back({{r.x, r.y, r.width, r.height}, area, hole, hole ? 0 : nearest});
    }
  }
  std::sort(out.begin(), out.end(), [](const Leftover& a, const Leftover& b) { return a.areaPx > b.areaPx; });
  return out;
}

}  // namespace hseam::measure
