#include "core/matte/confirmed_growth.h"

#include <algorithm>
#include <map>
#include <opencv2/imgproc.hpp>
#include <vector>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

constexpr float kStrong = 0.5f, kJoins = 0.3f, kFaint = 0.1f;  // of the other side
constexpr int kHeld = 24;                                      // px round what is strong
constexpr int kAway = 6;                                       // px: nearer to the band a decided side may hold traces
constexpr int kCells = 16;                                     // of each colour channel
constexpr double kExcused = 0.2, kInwards = 0.95;

cv::Mat around(const cv::Mat& m, int radius) {
  cv::Mat out;
  cv::dilate(m, out, cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * radius + 1, 2 * radius + 1)));
  return out;
}

int cellOf(const float* rgb) {
  int cell = 0;
  for (int c = 0; c < 3; ++c) cell = cell * kCells + std::clamp(int(rgb[c] * kCells), 0, kCells - 1);
  return cell;
}

// How often each colour occurs where `of` is set; never nothing, so that few pixels say little.
std::vector<double> frequencies(const cv::Mat& colours, const cv::Mat& of) {
  constexpr double kPrior = 0.5, kPriors = 50;
  std::vector<double> count(std::size_t(kCells) * kCells * kCells, kPrior);
  double all = kPriors;
  for (int i = 0; i < int(of.total()); ++i) {
    if (!of.data[i]) continue;
    count[std::size_t(cellOf(colours.ptr<float>() + std::ptrdiff_t(i) * 3))] += 1;
    all += 1;
  }
  for (double& c : count) c /= all;
  return count;
}

struct Part {
  double area = 0, half = 0, strong = 0;  // px
  std::map<int, double> colours;          // of what is strong: px a cell

  // Share of what is strong that a side as coloured as it is further away does not explain.
  double unexplained(const std::vector<double>& further) const {
    double sum = 0;
    for (const auto& [cell, n] : colours) sum += std::max(0.0, n - further[std::size_t(cell)] * area);
    return strong > 0 ? sum / strong : 0;
  }
  bool holds(bool inwards, const std::vector<double>& further) const {
    const double own = unexplained(further);
    if (inwards && own < kInwards) return false;
    return half / area < own - kExcused;
  }
};

// other: how much of the other side each pixel holds.
void confirmSide(const cv::Mat& before, const cv::Mat& other, const cv::Mat& colours, std::uint8_t side, cv::Mat& band) {
  const cv::Mat grownBy = (band == kUndecided) & (before == side);
  if (cv::countNonZero(grownBy) == 0) return;
  cv::Mat pieces;
  const int count = cv::connectedComponents((other > kJoins) & (band != side), pieces, 8, CV_32S);
  std::vector<bool> joined(std::size_t(count), false);
  for (int i = 0; i < int(pieces.total()); ++i) {
    if (other.ptr<float>()[i] > 0.95f && before.data[i] != side) joined[std::size_t(pieces.ptr<int>()[i])] = true;
  }
  joined[0] = false;
  cv::Mat seen(band.size(), CV_8U, cv::Scalar(0));
  for (int i = 0; i < int(pieces.total()); ++i) {
    if (grownBy.data[i] && joined[std::size_t(pieces.ptr<int>()[i])] && other.ptr<float>()[i] > kStrong) seen.data[i] = 255;
  }
  const cv::Mat kept = grownBy & around(seen, kHeld);
  const auto further = frequencies(colours, (band == side) & ~around(band == kUndecided, kAway));
  cv::Mat labels;
  std::vector<Part> parts(std::size_t(cv::connectedComponents(kept, labels, 8, CV_32S)));
  for (int i = 0; i < int(labels.total()); ++i) {
    if (labels.ptr<int>()[i] == 0) continue;
    Part& p = parts[std::size_t(labels.ptr<int>()[i])];
    const float o = other.ptr<float>()[i];
    p.area += 1;
    p.half += o > kFaint && o < 1 - kFaint;
    if (o <= kStrong) continue;
    p.strong += 1;
    p.colours[cellOf(colours.ptr<float>() + std::ptrdiff_t(i) * 3)] += 1;
  }
  std::vector<bool> holds;
  holds.reserve(parts.size());
  for (const Part& p : parts) holds.push_back(p.area > 0 && p.holds(side == kSubject, further));
  for (int i = 0; i < int(labels.total()); ++i) {
    if (grownBy.data[i] && !holds[std::size_t(labels.ptr<int>()[i])]) band.data[i] = side;
  }
}

}  // namespace

void confirmGrowth(const cv::Mat& before, const cv::Mat& alpha, const cv::Mat& colours, cv::Mat band) {
  const cv::Mat rest = 1 - alpha;
  confirmSide(before, alpha, colours, kBackground, band);
  confirmSide(before, rest, colours, kSubject, band);
}

}  // namespace hseam::matte
