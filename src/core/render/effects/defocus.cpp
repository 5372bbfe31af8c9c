// Blur as a lens gives it: every point becomes the shape of the opening.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/light.h"

namespace hseam::render::effects {
namespace {

constexpr double kLeast = 0.3;    // px of the level
constexpr double kDirect = 24;    // px: larger discs are laid on half the resolution, so that cost grows less than the radius
constexpr float kClipped = 0.8f;  // light from here on may have been cut off
constexpr float kMostGlow = 8;    // times what is left

// The opening as runs of a row about its middle, with the share of each run's end pixels that lies inside.
struct Opening {
  struct Row {
    int dy;
    double from, to;  // px about the middle; pixel k covers k − 0.5 to k + 0.5
    double weight;    // of the row: how much of its height lies inside
  };
  std::vector<Row> rows;
  double area = 0;
};

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

Opening openingOf(double radius, int blades, double turn) {
  Opening o;
  const int reach = int(std::ceil(radius));
  constexpr int kSlices = 8;
  for (int dy = -reach; dy <= reach; ++dy) {
    for (int s = 0; s < kSlices; ++s) {
      double from = 0, to = 0;
      if (!spanAt(dy - 0.5 + (s + 0.5) / kSlices, radius, blades, turn, from, to)) continue;
      o.rows.push_back({dy, from, to, 1.0 / kSlices});
      o.area += (to - from) / kSlices;
    }
  }
  return o;
}

// Slices of one row whose ends lie in the same pixels could be one; kept apart they cost two look-ups each, so they are joined:
// the mean of their ends is exact for the area and near enough for the edge.
void joinSlices(Opening& o) {
  std::vector<Opening::Row> joined;
  for (const auto& r : o.rows) {
    if (!joined.empty() && joined.back().dy == r.dy) {
      auto& j = joined.back();
      const double both = j.weight + r.weight;
      j.from = (j.from * j.weight + r.from * r.weight) / both;
      j.to = (j.to * j.weight + r.to * r.weight) / both;
      j.weight = both;
    } else {
      joined.push_back(r);
    }
  }
  o.rows = std::move(joined);
}

// Sums of each row up to a pixel's left border, so that any run costs two look-ups.
void spread(cv::Mat& plane, const Opening& o) {
  const int w = plane.cols, h = plane.rows;
  int reach = 1;
  for (const auto& r : o.rows) reach = std::max({reach, int(std::ceil(std::abs(r.from))) + 2, int(std::ceil(r.to)) + 2});
  cv::Mat padded;
  cv::copyMakeBorder(plane, padded, 0, 0, reach, reach, cv::BORDER_REPLICATE);
  std::vector<std::vector<double>> sums(static_cast<std::size_t>(h), std::vector<double>(std::size_t(padded.cols) + 1));
  for (int y = 0; y < h; ++y) {
    const float* in = padded.ptr<float>(y);
    double* s = sums[std::size_t(y)].data();
    for (int x = 0; x < padded.cols; ++x) s[x + 1] = s[x] + double(in[x]);
  }
  const double scale = 1 / o.area;
  std::vector<double> line(static_cast<std::size_t>(w));
  for (int y = 0; y < h; ++y) {
    std::fill(line.begin(), line.end(), 0);
    for (const auto& r : o.rows) {
      const int from = std::clamp(y + r.dy, 0, h - 1);
      const double* s = sums[std::size_t(from)].data();
      const float* in = padded.ptr<float>(from);
      // Of pixel x the run covers x + 0.5 + from … x + 0.5 + to.
      const double l = r.from + 0.5, t = r.to + 0.5;
      const int il = int(std::floor(l)), it = int(std::floor(t));
      const double fl = l - il, ft = t - it;
      for (int x = 0; x < w; ++x) {
        const int a = x + reach + il, b = x + reach + it;
        line[std::size_t(x)] += r.weight * (s[b] + ft * double(in[b]) - s[a] - fl * double(in[a]));
      }
    }
    float* out = plane.ptr<float>(y);
    for (int x = 0; x < w; ++x) out[x] = float(line[std::size_t(x)] * scale);
  }
}

void spreadOver(cv::Mat plane, double radius, int blades, double turn) {
  if (radius > kDirect) {
    cv::Mat half, back;
    cv::resize(plane, half, cv::Size((plane.cols + 1) / 2, (plane.rows + 1) / 2), 0, 0, cv::INTER_AREA);
    spreadOver(half, radius / 2, blades, turn);
    cv::resize(half, back, plane.size(), 0, 0, cv::INTER_LINEAR);
    back.copyTo(plane);
    return;
  }
  Opening o = openingOf(radius, blades, turn);
  joinSlices(o);
  spread(plane, o);
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
  Planes mixed(p.count());
  mixed.clear();
  for (int k = int(std::floor(least)); k <= std::min(kSizes, int(std::ceil(most))); ++k) {
    Planes spreadOut = p;
    if (const double r = radius * k / kSizes; r >= kLeast) {
      for (int c = 0; c < 4; ++c) spreadOver(matOf(spreadOut, c, w.area), r, blades, turn);
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
  if (radius < kLeast) return;
  const int blades = int(std::lround(v[1]));
  const auto glow = float(v[3]);
  toLight(p);
  // A light that the camera cut off at 1 was brighter: the nearer to 1, the more it gets back.
  for (int i = 0; glow > 0 && i < p.count(); ++i) {
    const float a = p.alpha()[i], most = std::max({p.colour(0)[i], p.colour(1)[i], p.colour(2)[i]});
    if (a <= 0 || most <= kClipped * a) continue;
    const float t = std::min(1.f, (most / a - kClipped) / (1 - kClipped)), gain = 1 + glow * kMostGlow * t * t;
    for (int c = 0; c < 3; ++c) p.colour(c)[i] *= gain;
  }
  const Ramp ramp(v, w);
  if (!ramp.acts()) {
    for (int c = 0; c < 4; ++c) spreadOver(matOf(p, c, w.area), radius, blades, v[2] * CV_PI / 180);
  } else {
    spreadAlong(ramp, p, w, radius, blades, v[2] * CV_PI / 180);
  }
  fromLight(p);
}

}  // namespace hseam::render::effects
