#include "core/frames/moved.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/frames/solid.h"

namespace hseam::frames {
namespace {

using image::Raster;

constexpr float kLeastStep = 0.045f;  // encoded: below, light itself wavers so much
constexpr double kQuietTimes = 5;

// The largest difference of a channel, in the mean of the neighbourhood: grain goes, things stay. Where light was cut off there
// was at least so much of it: only that it is lighter than the other says anything.
cv::Mat differenceOf(const Raster<float>& a, const Raster<std::uint8_t>& cutA, const Raster<float>& b,
                     const Raster<std::uint8_t>& cutB) {
  cv::Mat d(a.height(), a.width(), CV_32F);
  for (int y = 0; y < a.height(); ++y) {
    for (int x = 0; x < a.width(); ++x) {
      const float *p = a.at(x, y), *q = b.at(x, y);
      float above = 0, below = 0;
      for (int c = 0; c < 3; ++c) above = std::max(above, p[c] - q[c]), below = std::max(below, q[c] - p[c]);
      const bool cut = *cutA.at(x, y) != 0, other = *cutB.at(x, y) != 0;
      d.at<float>(y, x) = cut && other ? 0 : (cut ? above : (other ? below : std::max(above, below)));
    }
  }
  cv::blur(d, d, {3, 3});
  return d;
}

// What half of the pixels stay below: they have not moved.
float quietOf(const cv::Mat& d) {
  std::vector<float> v;
  for (int y = 0; y < d.rows; y += 2) {
    for (int x = 0; x < d.cols; x += 2) v.push_back(d.at<float>(y, x));
  }
  std::nth_element(v.begin(), v.begin() + long(v.size() / 2), v.end());
  return v[v.size() / 2];
}

// Sure differences, connected, and each grown along the weaker ones (shadows, soft edges) that hang together with it: two things
// whose shadows meet stay two. Weak differences alone are nothing.
int piecesOf(const cv::Mat& difference, const Raster<std::uint8_t>& shown, Raster<std::int32_t>& out) {
  const float quiet = quietOf(difference), high = std::max(kLeastStep * 1.6f, float(kQuietTimes) * quiet * 1.3f),
              low = std::max(kLeastStep * 0.6f, float(kQuietTimes) * quiet * 0.6f);
  const int width = difference.cols, height = difference.rows;
  cv::Mat sure(height, width, CV_8U, cv::Scalar(0)), weak = sure.clone();
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      if (!*shown.at(x, y)) continue;
      sure.at<std::uint8_t>(y, x) = difference.at<float>(y, x) > high ? 255 : 0;
      weak.at<std::uint8_t>(y, x) = difference.at<float>(y, x) > low ? 255 : 0;
    }
  }
  const cv::Mat round = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
  cv::morphologyEx(sure, sure, cv::MORPH_CLOSE, round);
  cv::Mat labels, stats, middles;
  const int count = cv::connectedComponentsWithStats(sure, labels, stats, middles, 8),
            least = std::max(9, width * height / 20000);
  std::vector<std::int32_t> number(static_cast<std::size_t>(count), 0);
  int kept = 0;
  for (int i = 1; i < count; ++i) {
    if (stats.at<int>(i, cv::CC_STAT_AREA) >= least) number[std::size_t(i)] = ++kept;
  }
  out = Raster<std::int32_t>(width, height, 1);
  std::vector<std::pair<int, int>> front;
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      *out.at(x, y) = number[std::size_t(labels.at<int>(y, x))];
      if (*out.at(x, y) != 0) front.emplace_back(x, y);
    }
  }
  // Ring by ring, so that what lies between two goes to the nearer one.
  while (!front.empty()) {
    std::vector<std::pair<int, int>> next;
    for (const auto& [x, y] : front) {
      for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(-1, 0), std::pair(0, 1), std::pair(0, -1)}) {
        const int u = x + dx, v = y + dy;
        if (u < 0 || v < 0 || u >= width || v >= height || *out.at(u, v) != 0 || !weak.at<std::uint8_t>(v, u)) continue;
        *out.at(u, v) = *out.at(x, y);
        next.emplace_back(u, v);
      }
    }
    front = std::move(next);
  }
  return kept;
}

// The middle one of what the frames show at each place.
Raster<float> plateOf(const Stack& stack) {
  Raster<float> plate(stack.width(), stack.height(), 3);
  std::vector<std::array<float, 4>> seen;
  const auto anyClear = [&](std::size_t i) {
    for (std::size_t k = 0; k < stack.cut.size(); ++k) {
      if (stack.shown[k].samples()[i] && !stack.cut[k].samples()[i]) return true;
    }
    return false;
  };
  for (std::size_t i = 0; i < stack.pixels(); ++i) {
    seen.clear();
    for (std::size_t k = 0; k < stack.colours.size(); ++k) {
      if (!stack.shown[k].samples()[i] || (stack.cut[k].samples()[i] && anyClear(i))) continue;
      const float* c = stack.colours[k].samples().data() + i * 3;
      seen.push_back({0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2], c[0], c[1], c[2]});
    }
    float* to = plate.samples().data() + i * 3;
    if (seen.empty()) continue;
    // Channel by channel; of an even number the lower of both in the middle, so that it is a colour that was there.
    const std::size_t middle = (seen.size() - 1) / 2;
    for (std::size_t c = 0; c < 3; ++c) {
      std::nth_element(seen.begin(), seen.begin() + long(middle), seen.end(),
                       [&](const auto& a, const auto& b) { return a[c + 1] < b[c + 1]; });
      to[c] = seen[middle][c + 1];
    }
  }
  return plate;
}

}  // namespace

Moved moved(const Stack& stack) {
  Moved out;
  const std::size_t count = stack.colours.size();
  out.pieces.resize(count);
  out.counts.resize(count);
  out.solid.resize(count);
  if (count == 2) {
    Raster<std::uint8_t> both = stack.shown[0];
    for (std::size_t i = 0; i < both.samples().size(); ++i) both.samples()[i] &= stack.shown[1].samples()[i];
    out.counts[0] = piecesOf(differenceOf(stack.colours[0], stack.cut[0], stack.colours[1], stack.cut[1]), both, out.pieces[0]);
    out.pieces[1] = out.pieces[0];
    out.counts[1] = out.counts[0];
    out.solid[0] = out.solid[1] = Raster<std::uint8_t>(stack.width(), stack.height(), 1, 1);
    return out;
  }
  const Raster<float> plate = plateOf(stack);
  const Raster<std::uint8_t> whole(stack.width(), stack.height(), 1);
  for (std::size_t k = 0; k < count; ++k) {
    out.counts[k] = piecesOf(differenceOf(stack.colours[k], stack.cut[k], plate, whole), stack.shown[k], out.pieces[k]);
    out.solid[k] = solidOf(stack.colours[k], plate, out.pieces[k]);
  }
  return out;
}

}  // namespace hseam::frames
