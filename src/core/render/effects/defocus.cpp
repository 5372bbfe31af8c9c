// Blur as a lens gives it: every point becomes the shape of the opening.

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/light.h"
#include "core/render/effects/spread.h"

namespace hseam::render::effects {
namespace {

constexpr double kLeastRadius = 0.3;  // px of the level
// Px: larger discs are laid on half the resolution, again and again, so that cost grows less than the radius. The first half is
// taken sooner: it costs the rim of a disc two px of sharpness, and saves most.
constexpr double kDirectRadius = 10, kDirectRadiusAgain = 24;
constexpr float kClipped = 0.8f;  // light from here on may have been cut off
constexpr float kMostGlow = 8;    // times what is left

// Half-width of the opening's span at height y: to the left and to the right.
bool spanAt(double y, double radius, int blades, double turn, double& from, double& to) {
  if (blades < 3) {
    if (std::abs(y) >= radius) return false;
    to = std::sqrt(radius * radius - y * y);
    from = -to;
    return true;
  }
  from = -1e9, to = 1e9;
  const double inner = radius * std::cos(CV_PI / blades);
  for (int k = 0; k < blades; ++k) {
    // nx·x + ny·y ≤ inner
    const double a = turn + 2 * CV_PI * (k + 0.5) / blades, nx = std::cos(a), ny = std::sin(a), rest = inner - ny * y;
    if (std::abs(nx) < 1e-9) {
      if (rest < 0) return false;
    } else if (nx > 0) {
      to = std::min(to, rest / nx);
    } else {
      from = std::max(from, rest / nx);
    }
  }
  return from < to;
}

// The opening as runs. Slices of one row whose ends lie in the same pixels would cost as much as a row each, so they are joined:
// the mean of their ends is exact for the area and near enough for the edge.
std::vector<ShapeRun> openingOf(double radius, int blades, double turn) {
  std::vector<ShapeRun> rows;
  const int reach = int(std::ceil(radius));
  constexpr int kSlices = 8;
  for (int dy = -reach; dy <= reach; ++dy) {
    ShapeRun row{dy, 0, 0, 0};
    for (int s = 0; s < kSlices; ++s) {
      double from = 0, to = 0;
      if (!spanAt(dy - 0.5 + (s + 0.5) / kSlices, radius, blades, turn, from, to)) continue;
      row.from += from, row.to += to, row.weight += 1;
    }
    if (row.weight > 0) rows.push_back({dy, row.from / row.weight, row.to / row.weight, row.weight / kSlices});
  }
  return rows;
}

bool isEven(const cv::Mat& plane) {
  const float* v = plane.ptr<float>();
  const std::size_t n = plane.total();
  constexpr std::size_t kFew = 64;
  const auto differing = [v](std::size_t from, std::size_t end) {
    int count = 0;
    for (std::size_t i = from; i < end; ++i) count += v[i] != v[0];
    return count;
  };
  // Most planes differ soon; those that do not are gone through without asking after each.
  return differing(0, std::min(n, kFew)) == 0 && differing(0, n) == 0;
}

// origin: of the plane on its grid. Pairs of px are the grid's own, so that nothing depends on how an area was split.
void spreadDisc(cv::Mat plane, cv::Point origin, double radius, int blades, double turn, double direct = kDirectRadius) {
  if (radius <= direct) {
    spreadOver(plane.ptr<float>(), {plane.cols, plane.rows}, openingOf(radius, blades, turn));
    return;
  }
  if (isEven(plane)) return;
  const int left = origin.x & 1, top = origin.y & 1, right = (left + plane.cols) & 1, bottom = (top + plane.rows) & 1;
  cv::Mat pairs = plane, half;
  if (left + top + right + bottom > 0) cv::copyMakeBorder(plane, pairs, top, bottom, left, right, cv::BORDER_REPLICATE);
  cv::resize(pairs, half, cv::Size(pairs.cols / 2, pairs.rows / 2), 0, 0, cv::INTER_AREA);
  // Going to the half and back spreads by itself, by a variance of 5/4 px² of the half more than a disc that is laid directly.
  spreadDisc(half, {(origin.x - left) / 2, (origin.y - top) / 2}, std::sqrt(radius * radius / 4 - 1.25), blades, turn,
             kDirectRadiusAgain);
  cv::resize(half, pairs, pairs.size(), 0, 0, cv::INTER_LINEAR);
  if (pairs.data != plane.data) pairs(cv::Rect(left, top, plane.cols, plane.rows)).copyTo(plane);
}

// How much of the full radius a place has: it grows along a line, as focus is lost with depth.
class Ramp {
 public:
  Ramp(const Values& v, const EffectWindow& w)
      : fromX_(v[4] * w.canvas.width),
        fromY_(v[5] * w.canvas.height),
        dx_(v[6] * w.canvas.width - fromX_),
        dy_(v[7] * w.canvas.height - fromY_),
        scale_(1 << w.level) {}
  bool acts() const { return dx_ * dx_ + dy_ * dy_ >= 1; }
  // x, y: px of the level
  float at(int x, int y) const {
    const double px = (x + 0.5) * scale_ - fromX_, py = (y + 0.5) * scale_ - fromY_;
    return float(std::clamp((px * dx_ + py * dy_) / (dx_ * dx_ + dy_ * dy_), 0.0, 1.0));
  }

 private:
  double fromX_, fromY_, dx_, dy_, scale_;
};

// Discs of a few sizes, and between two of them a mixture of both.
void spreadAlong(const Ramp& ramp, Planes& p, const EffectWindow& w, double radius, int blades, double turn) {
  constexpr int kSizes = 6;
  std::vector<float> share(static_cast<std::size_t>(p.count()));
  float least = 1, most = 0;
  for (int y = 0, i = 0; y < w.area.height; ++y) {
    for (int x = 0; x < w.area.width; ++x, ++i) {
      const float t = ramp.at(w.area.x + x, w.area.y + y);
      share[std::size_t(i)] = t * kSizes;
      least = std::min(least, t * kSizes), most = std::max(most, t * kSizes);
    }
  }
  const cv::Point origin(w.area.x, w.area.y);
  Planes mixed(p.count());
  mixed.clear();
  for (int k = int(std::floor(least)); k <= std::min(kSizes, int(std::ceil(most))); ++k) {
    Planes spreadOut = p;
    if (const double r = radius * k / kSizes; r >= kLeastRadius) {
      for (int c = 0; c < 4; ++c) spreadDisc(matOf(spreadOut, c, w.area), origin, r, blades, turn);
    }
    for (int i = 0; i < p.count(); ++i) {
      const float weight = 1 - std::abs(share[std::size_t(i)] - float(k));
      if (weight <= 0) continue;
      for (int c = 0; c < 4; ++c) mixed.colour(c)[i] += weight * spreadOut.colour(c)[i];
    }
  }
  p = mixed;
}

}  // namespace

void defocus(const Values& v, const EffectWindow& w, Planes& p) {
  const double radius = w.px(v[0]);
  if (radius < kLeastRadius) return;
  const int blades = int(std::lround(v[1]));
  toLight(p);
  if (v[3] > 0) giveBackClipped(p, kClipped, float(v[3]) * kMostGlow);
  const Ramp ramp(v, w);
  if (!ramp.acts()) {
    for (int c = 0; c < 4; ++c) spreadDisc(matOf(p, c, w.area), {w.area.x, w.area.y}, radius, blades, v[2] * CV_PI / 180);
  } else {
    spreadAlong(ramp, p, w, radius, blades, v[2] * CV_PI / 180);
  }
  fromLight(p);
}

}  // namespace hseam::render::effects
