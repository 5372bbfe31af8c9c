#include "core/frames/seam_breaks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::frames {
namespace {

using base::Rect;
using base::Result;
using image::Raster;

constexpr int kPlace = 48, kRoom = 8;    // px: of a place, and how far a shift is looked for
constexpr int kBesideSeam = 4;           // px on either side that count
constexpr float kEdge = 0.03f;           // of encoded luma a px: what counts as an edge
constexpr double kSeen = 0.03;           // difference along edges below which nothing is seen
constexpr double kExplained = 0.3;       // of the difference: what a shift must take away
constexpr double kLeastShift = 0.4;      // px
constexpr std::size_t kLeastEdges = 24;  // px of edges beside the seam

cv::Mat seamLuma(const Raster<float>& read) {
  cv::Mat out(read.height(), read.width(), CV_32F);
  const int ch = read.channels();
  for (int y = 0; y < read.height(); ++y) {
    for (int x = 0; x < read.width(); ++x) {
      const float* c = read.at(x, y);
      out.ptr<float>(y)[x] = ch < 3 ? c[0] : 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
    }
  }
  return out;
}

// Which pixels lie beside the seam between two labels.
cv::Mat besideSeam(const Raster<std::uint8_t>& labels, std::uint8_t a, std::uint8_t b) {
  cv::Mat isA(labels.height(), labels.width(), CV_8U), isB = isA.clone();
  for (int y = 0; y < labels.height(); ++y) {
    for (int x = 0; x < labels.width(); ++x) {
      isA.ptr<std::uint8_t>(y)[x] = *labels.at(x, y) == a ? 255 : 0;
      isB.ptr<std::uint8_t>(y)[x] = *labels.at(x, y) == b ? 255 : 0;
    }
  }
  const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * kBesideSeam + 1, 2 * kBesideSeam + 1});
  cv::dilate(isA, isA, disc);
  cv::dilate(isB, isB, disc);
  return isA & isB;
}

// The places that count, far enough from the border that a shift may be tried on each.
std::vector<cv::Point> placesOf(const cv::Mat& counts) {
  std::vector<cv::Point> out;
  for (int y = kRoom; y < counts.rows - kRoom - 1; ++y) {
    for (int x = kRoom; x < counts.cols - kRoom - 1; ++x) {
      if (counts.ptr<std::uint8_t>(y)[x]) out.emplace_back(x, y);
    }
  }
  return out;
}

// Root of the mean square of what differs there, mean tone taken out; the second one read at a shift, between its pixels
// bilinearly.
double differenceAt(const cv::Mat& a, const cv::Mat& b, const std::vector<cv::Point>& places, double dx, double dy) {
  const int ix = int(std::floor(dx)), iy = int(std::floor(dy));
  const float u = float(dx - ix), v = float(dy - iy);
  double sum = 0, squares = 0;
  for (const cv::Point& p : places) {
    const float *row = b.ptr<float>(p.y + iy) + p.x + ix, *next = b.ptr<float>(p.y + iy + 1) + p.x + ix;
    const float there = (1 - v) * ((1 - u) * row[0] + u * row[1]) + v * ((1 - u) * next[0] + u * next[1]);
    const double d = double(a.ptr<float>(p.y)[p.x]) - double(there);
    sum += d, squares += d * d;
  }
  const double n = double(places.size());
  return std::sqrt(std::max(0.0, squares / n - sum / n * (sum / n)));
}

cv::Mat edgesOf(const cv::Mat& luma) {
  cv::Mat gx, gy, size;
  cv::Sobel(luma, gx, CV_32F, 1, 0, 3, 1.0 / 8);
  cv::Sobel(luma, gy, CV_32F, 0, 1, 3, 1.0 / 8);
  cv::magnitude(gx, gy, size);
  return size > kEdge;
}

// Vertex of the parabola through three values, −0.5..0.5.
double vertex(double before, double at, double after) {
  const double bend = before - 2 * at + after;
  return bend <= 1e-12 ? 0 : std::clamp(0.5 * (before - after) / bend, -0.5, 0.5);
}

// One place; nothing: it is not seen.
Result<std::optional<SeamBreak>> breakAt(const std::vector<Frame>& frames, const image::TiledImage& labels, const Rect& place) {
  const Rect wide = place.grown(kRoom).intersected(Rect::of(labels.size()));
  HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(labels, 0, wide));
  std::array<int, 256> count{};
  for (const std::uint8_t l : read.samples()) ++count[l];
  const auto a = std::uint8_t(std::max_element(count.begin() + 1, count.end()) - count.begin());
  count[a] = 0;
  const auto b = std::uint8_t(std::max_element(count.begin() + 1, count.end()) - count.begin());
  if (count[b] == 0 || a > frames.size() || b > frames.size()) return std::optional<SeamBreak>();
  HSEAM_TRY(const Raster<float> one, frames[std::size_t(a - 1)].read(0, wide));
  HSEAM_TRY(const Raster<float> other, frames[std::size_t(b - 1)].read(0, wide));
  const cv::Mat la = seamLuma(one), lb = seamLuma(other);
  const std::vector<cv::Point> places = placesOf(besideSeam(read, a, b) & (edgesOf(la) | edgesOf(lb)));
  if (places.size() < kLeastEdges) return std::optional<SeamBreak>();
  const auto at = [&](double dx, double dy) { return differenceAt(la, lb, places, dx, dy); };
  const double still = at(0, 0);
  if (still < kSeen) return std::optional<SeamBreak>();
  SeamBreak out{wide, std::size_t(a - 1), std::size_t(b - 1), 0, still};
  double best = still;
  int bx = 0, by = 0;
  for (int dy = -kRoom; dy <= kRoom; ++dy) {
    for (int dx = -kRoom; dx <= kRoom; ++dx) {
      const double d = at(dx, dy);
      if (d < best) best = d, bx = dx, by = dy;
    }
  }
  if (std::abs(bx) < kRoom && std::abs(by) < kRoom) {
    const double sx = bx + vertex(at(bx - 1, by), best, at(bx + 1, by)), sy = by + vertex(at(bx, by - 1), best, at(bx, by + 1));
    if (std::min(best, at(sx, sy)) < kExplained * still) {
      out.px = std::hypot(sx, sy);
      if (out.px < kLeastShift) return std::optional<SeamBreak>();
    }
  }
  return std::optional(out);
}

bool hasSeam(const Raster<std::uint8_t>& labels) {
  const std::uint8_t first = labels.samples().front();
  return std::any_of(labels.samples().begin(), labels.samples().end(), [&](std::uint8_t l) { return l != first; });
}

double worth(const SeamBreak& s) {
  return s.difference * (1 + s.px);
}

// Neighbours of one pair of frames are one.
std::vector<SeamBreak> joined(const std::vector<SeamBreak>& all) {
  std::vector<SeamBreak> out;
  for (const SeamBreak& s : all) {
    const auto beside = std::find_if(out.begin(), out.end(), [&](const SeamBreak& o) {
      return std::minmax(o.first, o.second) == std::minmax(s.first, s.second) && !o.where.grown(1).intersected(s.where).empty();
    });
    if (beside == out.end()) {
      out.push_back(s);
    } else {
      beside->where = beside->where.united(s.where);
      if (worth(s) > worth(*beside)) beside->px = s.px, beside->difference = s.difference;
    }
  }
  std::sort(out.begin(), out.end(), [](const SeamBreak& a, const SeamBreak& b) { return worth(a) > worth(b); });
  return out;
}

}  // namespace

Result<std::vector<SeamBreak>> seamBreaks(const std::vector<Frame>& frames, const image::TiledImage& labels,
                                          base::Executor& executor, const base::Progress& progress) {
  HSEAM_DO(checkFrames(frames));
  const base::Size size = labels.size();
  const auto rows = std::size_t(std::max(1, (size.height + kPlace - 1) / kPlace));
  std::vector<std::vector<SeamBreak>> found(rows);
  std::vector<base::Status> done(rows);
  executor.forEach(int(rows), [&](int r) {
    if (progress.cancelled()) return;
    done[std::size_t(r)] = [&]() -> base::Status {
      for (int x = 0; x < size.width; x += kPlace) {
        const Rect place = Rect{x, r * kPlace, kPlace, kPlace}.intersected(Rect::of(size));
        HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(labels, 0, place.grown(1).intersected(Rect::of(size))));
        if (!hasSeam(read)) continue;
        HSEAM_TRY(const auto one, breakAt(frames, labels, place));
        if (one) found[std::size_t(r)].push_back(*one);
      }
      return {};
    }();
  });
  if (progress.cancelled()) return base::cancelledError();
  for (const base::Status& d : done) HSEAM_DO(d);
  std::vector<SeamBreak> all;
  for (auto& row : found) all.insert(all.end(), row.begin(), row.end());
  progress.report(1);
  return joined(all);
}

}  // namespace hseam::frames
