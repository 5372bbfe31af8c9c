#include "core/measure/horizon.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <optional>
#include <random>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::measure {
namespace {

using base::Point;
using base::Size;

constexpr double kSide = 1000, kRad = M_PI / 180;
constexpr double kShortest = 0.02;                 // of the diagonal
constexpr double kLevelDeg = 3, kUprightDeg = 80;  // nearer to level a line says little of where it vanishes
constexpr double kOffDeg = 1.5;                    // between a segment and the direction to its vanishing point
constexpr int kSamples = 3000, kBootstraps = 60, kFewLines = 8;

struct Segment {
  Point middle, along;  // along: of unit length
  double length = 0;
};

struct VanishingPoint {
  Point at;
  std::vector<std::size_t> lines;
  double share = 0;  // of the length of all lines that were left
  double spreadY = 0;
  double fanDeg = 0;  // between the outermost directions
};

std::vector<Segment> segmentsOf(const image::Raster<float>& colours) {
  const double k = std::min(1.0, kSide / std::max(colours.width(), colours.height()));
  cv::Mat luma(colours.height(), colours.width(), CV_8U);
  for (int y = 0; y < luma.rows; ++y) {
    for (int x = 0; x < luma.cols; ++x) {
      const float* c = colours.at(x, y);
      luma.at<std::uint8_t>(y, x) = cv::saturate_cast<std::uint8_t>(255 * (0.299f * c[0] + 0.587f * c[1] + 0.114f * c[2]));
    }
  }
  cv::resize(luma, luma, {}, k, k, cv::INTER_AREA);
  std::vector<cv::Vec4f> found;
  cv::createLineSegmentDetector(cv::LSD_REFINE_STD)->detect(luma, found);
  const double diagonal = std::hypot(colours.width(), colours.height());
  std::vector<Segment> out;
  out.reserve(found.size());
  for (const cv::Vec4f& v : found) {
    const double x0 = double(v[0]) / k, y0 = double(v[1]) / k, dx = double(v[2]) / k - x0, dy = double(v[3]) / k - y0;
    const double length = std::hypot(dx, dy), angle = std::atan2(std::abs(dy), std::abs(dx)) / kRad;
    if (length > kShortest * diagonal && angle > kLevelDeg && angle < kUprightDeg)
      out.push_back({{x0 + dx / 2, y0 + dy / 2}, {dx / length, dy / length}, length});
  }
  return out;
}

// Whether a segment points at a place; one that lies on it says nothing.
bool pointsAt(const Segment& s, Point at) {
  const double dx = at.x - s.middle.x, dy = at.y - s.middle.y, away = std::hypot(dx, dy);
  return away > s.length / 2 && std::abs(dx * s.along.y - dy * s.along.x) < std::sin(kOffDeg * kRad) * away;
}

std::optional<Point> linesCross(const Segment& a, const Segment& b) {
  const double det = a.along.x * b.along.y - a.along.y * b.along.x;
  if (std::abs(det) < 1e-6) return std::nullopt;
  const double dx = b.middle.x - a.middle.x, dy = b.middle.y - a.middle.y, t = (dx * b.along.y - dy * b.along.x) / det;
  return Point{a.middle.x + t * a.along.x, a.middle.y + t * a.along.y};
}

// The place nearest to all lines, distances weighed as angles seen from their middles.
std::optional<Point> nearestToAll(const std::vector<Segment>& all, const std::vector<std::size_t>& which, Point now) {
  double a = 0, b = 0, c = 0, p = 0, q = 0;
  for (const std::size_t i : which) {
    const Segment& s = all[i];
    const double nx = s.along.y, ny = -s.along.x, away = std::max(1.0, std::hypot(now.x - s.middle.x, now.y - s.middle.y)),
                 w = (s.length / away) * (s.length / away), d = nx * s.middle.x + ny * s.middle.y;
    a += w * nx * nx, b += w * nx * ny, c += w * ny * ny, p += w * nx * d, q += w * ny * d;
  }
  const double det = a * c - b * b;
  if (det <= 1e-12 * (a + c) * (a + c)) return std::nullopt;
  return Point{(p * c - q * b) / det, (a * q - b * p) / det};
}

std::vector<std::size_t> thatPointAt(const std::vector<Segment>& all, const std::vector<char>& free, Point at) {
  std::vector<std::size_t> out;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (free[i] && pointsAt(all[i], at)) out.push_back(i);
  }
  return out;
}

double fanOf(const std::vector<Segment>& all, const std::vector<std::size_t>& lines) {
  std::vector<double> angles;
  angles.reserve(lines.size());
  for (const std::size_t i : lines) angles.push_back(std::fmod(std::atan2(all[i].along.y, all[i].along.x) / kRad + 360, 180));
  std::sort(angles.begin(), angles.end());
  double gap = angles.front() + 180 - angles.back();
  for (std::size_t i = 1; i < angles.size(); ++i) gap = std::max(gap, angles[i] - angles[i - 1]);
  return 180 - gap;
}

void addSpread(const std::vector<Segment>& all, VanishingPoint& m, std::mt19937& random) {
  std::uniform_int_distribution<std::size_t> any(0, m.lines.size() - 1);
  double sum = 0, squares = 0;
  int n = 0;
  for (int k = 0; k < kBootstraps; ++k) {
    std::vector<std::size_t> drawn;
    for (std::size_t i = 0; i < m.lines.size(); ++i) drawn.push_back(m.lines[any(random)]);
    const auto at = nearestToAll(all, drawn, m.at);
    if (!at) continue;
    const double dy = at->y - m.at.y;
    sum += dy, squares += dy * dy, ++n;
  }
  m.spreadY = n < kBootstraps / 2 ? 1e9 : std::sqrt(std::max(0.0, squares / n - sum / n * sum / n));
}

// Where most of the free lines meet; it takes them.
std::optional<VanishingPoint> bestVanishingPoint(const std::vector<Segment>& all, std::vector<char>& free, Size size,
                                                 std::mt19937& random) {
  std::vector<double> weights(all.size(), 0);
  double total = 0;
  std::size_t left = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    if (free[i]) weights[i] = all[i].length, total += all[i].length, ++left;
  }
  if (left < std::size_t(kFewLines)) return std::nullopt;
  std::discrete_distribution<std::size_t> draw(weights.begin(), weights.end());
  double most = 0;
  Point best;
  for (int k = 0; k < kSamples; ++k) {
    const std::size_t i = draw(random), j = draw(random);
    const auto at = i == j ? std::nullopt : linesCross(all[i], all[j]);
    if (!at || at->x < -3 * size.width || at->x > 4 * size.width || at->y < -2 * size.height || at->y > 3 * size.height) continue;
    double sum = 0;
    for (std::size_t n = 0; n < all.size(); ++n) {
      if (free[n] && pointsAt(all[n], *at)) sum += all[n].length;
    }
    if (sum > most) most = sum, best = *at;
  }
  VanishingPoint m;
  m.at = best;
  for (int round = 0; round < 3; ++round) {
    m.lines = thatPointAt(all, free, m.at);
    if (m.lines.size() < 4) return std::nullopt;
    const auto at = nearestToAll(all, m.lines, m.at);
    if (!at) return std::nullopt;
    m.at = *at;
  }
  m.lines = thatPointAt(all, free, m.at);
  if (m.lines.size() < 4) return std::nullopt;
  double sum = 0;
  for (const std::size_t i : m.lines) sum += all[i].length, free[i] = 0;
  m.share = sum / total;
  m.fanDeg = fanOf(all, m.lines);
  addSpread(all, m, random);
  return m;
}

// Of chance a few lines meet anywhere; these are many, close together, and seen from several sides or very many.
bool sure(const VanishingPoint& m, Size size) {
  constexpr double kSpread = 0.015;
  if (m.spreadY > kSpread * size.height) return false;
  return (m.lines.size() >= 8 && m.share >= 0.35 && m.fanDeg >= 25) || (m.lines.size() >= 20 && m.share >= 0.2);
}

}  // namespace

Horizon horizonOf(const image::Raster<float>& colours) {
  Horizon out;
  const Size size = colours.size();
  const std::vector<Segment> all = segmentsOf(colours);
  std::vector<char> free(all.size(), 1);
  std::mt19937 random(1);  // the same picture, the same answer
  std::vector<VanishingPoint> found;
  for (int n = 0; n < 2; ++n) {
    const auto m = bestVanishingPoint(all, free, size, random);
    if (m && sure(*m, size)) found.push_back(*m);
    if (!m) break;
  }
  if (found.empty()) {
    out.y = unavailable(all.size() < std::size_t(kFewLines) ? "there are too few straight lines"
                                                            : "its lines meet nowhere in particular");
    return out;
  }
  for (const VanishingPoint& m : found) out.lines += int(m.lines.size());
  const VanishingPoint& a = found.front();
  out.y = available(a.at.y, a.spreadY);
  constexpr double kApart = 0.3, kMostTiltDeg = 10;
  if (found.size() == 2 && std::abs(found[1].at.x - a.at.x) > kApart * size.width) {
    const VanishingPoint& b = found[1];
    const double slope = (b.at.y - a.at.y) / (b.at.x - a.at.x), tilt = std::atan(slope) / kRad;
    // Both on one horizon, or the second is of something that does not lie level.
    if (std::abs(tilt) < kMostTiltDeg) {
      const double share = (size.width / 2.0 - a.at.x) / (b.at.x - a.at.x);
      out.tiltDeg = tilt;
      out.y = available(a.at.y + share * (b.at.y - a.at.y), std::hypot((1 - share) * a.spreadY, share * b.spreadY));
    }
  }
  return out;
}

}  // namespace hseam::measure
