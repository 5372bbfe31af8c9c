#include "core/retouch/light_under.h"

#include <Eigen/Sparse>
#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "core/repair/membrane.h"

namespace hseam::retouch {
namespace {

using image::Raster;

constexpr int kAcross = 200;         // px of the longer side of the mark where light is worked out
constexpr float kDark = 2e-3f;       // of light; darker says nothing of its hue
constexpr double kUsual = 0.9;       // share of the differences round the mark that are surely no steps
constexpr float kStep = 2;           // times the largest of those
constexpr int kRound = kAcross / 5;  // px about the mark that say what is usual
// Shares of a neighbourhood without steps from which on it tells of the light, and below which it tells nothing.
constexpr float kBusy = 0.2f, kClear = 0.5f;
constexpr float kLeastStep = 0.02f;  // natural logarithm

// Logarithms of luminance, and of red and of blue over green.
cv::Mat logarithms(const cv::Mat& light) {
  cv::Mat out(light.size(), CV_32FC3);
  for (int i = 0; i < int(light.total()); ++i) {
    const cv::Vec3f& c = light.ptr<cv::Vec3f>()[i];
    const float r = std::max(c[0], 0.f) + kDark, g = std::max(c[1], 0.f) + kDark, b = std::max(c[2], 0.f) + kDark;
    out.ptr<cv::Vec3f>()[i] = {std::log(0.2126f * r + 0.7152f * g + 0.0722f * b), std::log(r / g), std::log(b / g)};
  }
  return out;
}

struct Difference {
  float light, hue;
};
Difference between(const cv::Vec3f& a, const cv::Vec3f& b) {
  return {std::abs(a[0] - b[0]), std::max(std::abs(a[1] - b[1]), std::abs(a[2] - b[2]))};
}

float atShare(std::vector<float>& values, double share) {
  if (values.empty()) return 0;
  const auto at = values.begin() + long(share * double(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

// Places of the mark that lie at a step.
cv::Mat stepsOf(const cv::Mat& logs, const cv::Mat& mark, const cv::Mat& round) {
  std::vector<float> light, hue;
  const auto each = [&](const auto& pair) {
    for (int y = 0; y < logs.rows; ++y) {
      for (int x = 0; x < logs.cols; ++x) {
        if (x + 1 < logs.cols) pair(y, x, y, x + 1);
        if (y + 1 < logs.rows) pair(y, x, y + 1, x);
      }
    }
  };
  each([&](int y, int x, int v, int u) {
    if (!round.at<std::uint8_t>(y, x) || !round.at<std::uint8_t>(v, u)) return;
    const Difference d = between(logs.at<cv::Vec3f>(y, x), logs.at<cv::Vec3f>(v, u));
    light.push_back(d.light), hue.push_back(d.hue);
  });
  const float mostLight = std::max(kLeastStep, kStep * atShare(light, kUsual)),
              mostHue = std::max(kLeastStep, kStep * atShare(hue, kUsual));
  cv::Mat steps(logs.size(), CV_8U, cv::Scalar(0));
  each([&](int y, int x, int v, int u) {
    const Difference d = between(logs.at<cv::Vec3f>(y, x), logs.at<cv::Vec3f>(v, u));
    if (d.light > mostLight || d.hue > mostHue) steps.at<std::uint8_t>(y, x) = steps.at<std::uint8_t>(v, u) = 255;
  });
  // A step is as wide as the lens made it.
  cv::dilate(steps, steps, cv::Mat::ones(3, 3, CV_8U));
  return steps & mark;
}

// Of each place the difference to the next one to the right and below; at steps what lies round them goes on.
Raster<float> differencesOf(const cv::Mat& logs, const cv::Mat& steps) {
  Raster<float> out(logs.cols, logs.rows, 2);
  Raster<std::uint8_t> holds(logs.cols, logs.rows, 1, std::uint8_t(repair::Hold::fixed));
  for (int y = 0; y < logs.rows; ++y) {
    for (int x = 0; x < logs.cols; ++x) {
      const float own = logs.at<cv::Vec3f>(y, x)[0];
      out.at(x, y)[0] = x + 1 < logs.cols ? logs.at<cv::Vec3f>(y, x + 1)[0] - own : 0;
      out.at(x, y)[1] = y + 1 < logs.rows ? logs.at<cv::Vec3f>(y + 1, x)[0] - own : 0;
      if (steps.at<std::uint8_t>(y, x)) *holds.at(x, y) = std::uint8_t(repair::Hold::loose);
    }
  }
  repair::relax(out, holds);
  return out;
}

// Under the mark the values whose differences are nearest to those; held by what is round it.
void integrate(const Raster<float>& differences, const cv::Mat& mark, cv::Mat& values) {
  cv::Mat number(mark.size(), CV_32S, cv::Scalar(-1));
  int count = 0;
  for (int i = 0; i < int(mark.total()); ++i) {
    if (mark.ptr<std::uint8_t>()[i]) number.ptr<int>()[i] = count++;
  }
  if (count == 0) return;
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::VectorXd right = Eigen::VectorXd::Zero(count);
  constexpr std::array<std::array<int, 2>, 4> kAround{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};
  for (int y = 0; y < mark.rows; ++y) {
    for (int x = 0; x < mark.cols; ++x) {
      const int n = number.at<int>(y, x);
      if (n < 0) continue;
      double own = 1e-9;  // a mark that fills the picture is held by nothing
      for (const auto& [dx, dy] : kAround) {
        const int u = x + dx, v = y + dy;
        if (u < 0 || v < 0 || u >= mark.cols || v >= mark.rows) continue;
        own += 1;
        const int c = dx != 0 ? 0 : 1;
        right[n] += dx + dy > 0 ? -double(differences.at(x, y)[c]) : double(differences.at(u, v)[c]);
        if (const int m = number.at<int>(v, u); m >= 0) {
          entries.emplace_back(n, m, -1);
        } else {
          right[n] += double(values.at<float>(v, u));
        }
      }
      entries.emplace_back(n, n, own);
    }
  }
  Eigen::SparseMatrix<double> system(count, count);
  system.setFromTriplets(entries.begin(), entries.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(system);
  const Eigen::VectorXd solved = solver.solve(right);
  for (int i = 0; i < int(mark.total()); ++i) {
    if (const int n = number.ptr<int>()[i]; n >= 0) values.ptr<float>()[i] = float(solved[n]);
  }
}

// A busy print hides the light.
cv::Mat knownOf(const cv::Mat& mark, const cv::Mat& steps) {
  cv::Mat clear, marked;
  cv::Mat(mark & ~steps).convertTo(clear, CV_32F, 1 / 255.0);
  mark.convertTo(marked, CV_32F, 1 / 255.0);
  const cv::Size around(kRound / 2 + 1, kRound / 2 + 1);
  cv::blur(clear, clear, around);
  cv::blur(marked, marked, around);
  cv::Mat known(mark.size(), CV_32F);
  for (int i = 0; i < int(mark.total()); ++i) {
    const float share = clear.ptr<float>()[i] / std::max(1e-3f, marked.ptr<float>()[i]);
    known.ptr<float>()[i] = std::clamp((share - kBusy) / (kClear - kBusy), 0.f, 1.f);
  }
  return known;
}

Raster<float> enlarged(const cv::Mat& small, int width, int height) {
  Raster<float> out(width, height, 1);
  cv::Mat large(height, width, CV_32F, out.row(0));
  cv::resize(small, large, large.size(), 0, 0, cv::INTER_LINEAR);
  return out;
}

}  // namespace

LightUnder lightUnder(const Raster<float>& light, const Raster<std::uint8_t>& mark) {
  const cv::Mat full(light.height(), light.width(), CV_32FC3, const_cast<float*>(light.row(0)));
  cv::Mat marked(mark.height(), mark.width(), CV_8U, const_cast<std::uint8_t*>(mark.row(0)));
  marked = marked > 0;
  const cv::Rect box = cv::boundingRect(marked);
  const double k = std::min(1.0, double(kAcross) / std::max({1, box.width, box.height}));
  const cv::Size size(std::max(1, int(std::lround(light.width() * k))), std::max(1, int(std::lround(light.height() * k))));
  cv::Mat small, smallMark;
  cv::resize(full, small, size, 0, 0, cv::INTER_AREA);
  cv::resize(marked, smallMark, size, 0, 0, cv::INTER_AREA);
  smallMark = smallMark > 0;
  cv::dilate(smallMark, smallMark, cv::Mat::ones(3, 3, CV_8U));
  const cv::Mat logs = logarithms(small);
  cv::Mat values;
  cv::extractChannel(logs, values, 0);
  // What holds the mark is the mean round about, not single threads.
  cv::GaussianBlur(values, values, {}, 1.5);
  cv::Mat round;
  cv::dilate(smallMark, round, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * kRound + 1, 2 * kRound + 1)));
  round &= ~smallMark;
  const cv::Mat steps = stepsOf(logs, smallMark, round);
  integrate(differencesOf(logs, steps), smallMark, values);
  cv::GaussianBlur(values, values, {}, 0.01 * kAcross);
  return {enlarged(values, light.width(), light.height()), enlarged(knownOf(smallMark, steps), light.width(), light.height())};
}

}  // namespace hseam::retouch
