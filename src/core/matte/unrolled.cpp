#include "core/matte/unrolled.h"

#include <algorithm>
#include <cmath>

#include "core/image/lab.h"
#include "core/image/sampler.h"
#include "core/image/transfer.h"

namespace hseam::matte {
namespace {

using base::Point;
using image::Sampler;

constexpr int kReach = 24;

std::vector<Point> resampled(const std::vector<Point>& p, double length) {
  const int count = std::max(8, int(std::lround(length)));
  std::vector<Point> out;
  const double step = length / count;
  double along = 0, next = 0;
  for (std::size_t i = 0; i < p.size() && int(out.size()) < count; ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    const double d = std::hypot(b.x - a.x, b.y - a.y);
    while (next <= along + d && int(out.size()) < count) {
      const double t = d > 0 ? (next - along) / d : 0;
      out.push_back({a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t});
      next += step;
    }
    along += d;
  }
  return out;
}

std::vector<Point> smoothed(const std::vector<Point>& p, double sigma) {
  const int n = int(p.size()), r = std::min(int(3 * sigma), n / 2);
  std::vector<double> w;
  double sum = 0;
  for (int k = -r; k <= r; ++k) sum += w.emplace_back(std::exp(-k * k / (2 * sigma * sigma)));
  std::vector<Point> out(p.size());
  for (int i = 0; i < n; ++i) {
    Point q{0, 0};
    for (int k = 0; k <= 2 * r; ++k) {
      const Point& s = p[std::size_t(((i + k - r) % n + n) % n)];
      q.x += s.x * w[std::size_t(k)] / sum;
      q.y += s.y * w[std::size_t(k)] / sum;
    }
    out[std::size_t(i)] = q;
  }
  return out;
}

using Rgb = std::array<double, 3>;
Rgb colourAt(Sampler& s, const Unrolled::Place& p, double offset) {
  const double x = p.at.x + p.outward.x * offset, y = p.at.y + p.outward.y * offset;
  return {s.at(x, y, 0), s.at(x, y, 1), s.at(x, y, 2)};
}

// Coverage along a normal, every half px from inside to outside.
struct Profile {
  std::array<float, std::size_t(4 * kReach + 1)> alpha;
  static double offset(std::size_t i) { return double(i) / 2 - kReach; }
};

// Where coverage falls to a level for the last time, counted from inside.
double lastAbove(const Profile& p, float level) {
  for (std::size_t i = p.alpha.size() - 1; i-- > 0;) {
    if (p.alpha[i] >= level && p.alpha[i + 1] < level)
      return Profile::offset(i) + 0.5 * double(p.alpha[i] - level) / double(p.alpha[i] - p.alpha[i + 1]);
  }
  return NAN;
}
double firstBelow(const Profile& p, float level) {
  for (std::size_t i = 0; i + 1 < p.alpha.size(); ++i) {
    if (p.alpha[i] >= level && p.alpha[i + 1] < level)
      return Profile::offset(i) + 0.5 * double(p.alpha[i] - level) / double(p.alpha[i] - p.alpha[i + 1]);
  }
  return NAN;
}

// Twice the number of humps: 1 where coverage only falls.
double variation(const Profile& p) {
  double sum = 0;
  for (std::size_t i = 1; i < p.alpha.size(); ++i) sum += std::abs(double(p.alpha[i]) - double(p.alpha[i - 1]));
  return sum;
}

double haloOf(Sampler& shown, Sampler& source, const Unrolled::Place& place, const Profile& profile) {
  const auto mean = [&](Sampler& s, int from, int to) {
    Rgb sum{0, 0, 0};
    int n = 0;
    for (int d = from; d <= to; d += 2, ++n) {
      const Rgb c = colourAt(s, place, d);
      for (std::size_t k = 0; k < 3; ++k) sum[k] += c[k];
    }
    for (double& v : sum) v /= n;
    return image::labFromEncoded(sum);
  };
  Rgb edge{0, 0, 0};
  int n = 0;
  for (std::size_t i = 0; i < profile.alpha.size(); ++i) {
    if (profile.alpha[i] < 0.3f || profile.alpha[i] > 0.8f) continue;
    const Rgb c = colourAt(shown, place, Profile::offset(i));
    for (std::size_t k = 0; k < 3; ++k) edge[k] += c[k];
    ++n;
  }
  if (n == 0) return 0;
  for (double& v : edge) v /= n;
  const image::Lab in = mean(shown, -10, -5), out = mean(source, 8, 14), at = image::labFromEncoded(edge);
  const double dl = out.l - in.l, da = out.a - in.a, db = out.b - in.b, whole = dl * dl + da * da + db * db;
  if (whole < 25) return 0;  // inside and background are alike: nothing could be told apart
  const double share = std::clamp(((at.l - in.l) * dl + (at.a - in.a) * da + (at.b - in.b) * db) / whole, 0.0, 1.0);
  return image::deltaE2000(in, {in.l + share * dl, in.a + share * da, in.b + share * db});
}

}  // namespace

base::Result<Unrolled> unrolled(const image::TiledImage& mask) {
  constexpr double kWanted = 1500, kShortest = 40, kSmooth = 4, kNormals = 10;
  const base::Size size = mask.size();
  int level = 0;
  while (level + 1 < mask.levelCount() && std::max(size.width, size.height) / double(1 << level) > 1.5 * kWanted) ++level;
  HSEAM_TRY(const auto contours, path::contours(mask, kShortest, level));
  Unrolled out;
  for (std::size_t i = 0; i < contours.size(); ++i) {
    const auto even = resampled(contours[i].points, contours[i].length);
    const auto line = smoothed(even, kSmooth), wide = smoothed(even, kNormals);
    const std::size_t n = line.size();
    for (std::size_t k = 0; k < n; ++k) {
      const Point &a = wide[(k + n - 3) % n], &b = wide[(k + 3) % n];
      const double dx = b.x - a.x, dy = b.y - a.y, d = std::max(std::hypot(dx, dy), 1e-9);
      // The covered side is on the right of the way (y down): outwards is to its left.
      out.places.push_back({line[k], {dy / d, -dx / d}, int(i)});
    }
  }
  return out;
}

base::Result<std::vector<EdgeReading>> edgeReadings(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                    const image::TiledImage& shown, const image::TiledImage& source) {
  Sampler coverage(mask), colours(shown), before(source);
  std::vector<EdgeReading> all;
  std::vector<double> humps;
  for (int i = first; i < first + count; ++i) {
    const Unrolled::Place& p = outline.places[std::size_t(i)];
    Profile profile;
    for (std::size_t k = 0; k < profile.alpha.size(); ++k) {
      const double d = Profile::offset(k);
      profile.alpha[k] = coverage.at(p.at.x + p.outward.x * d, p.at.y + p.outward.y * d, 0);
    }
    EdgeReading r;
    const double from = firstBelow(profile, 0.9f), to = lastAbove(profile, 0.1f);
    if (std::isfinite(from) && std::isfinite(to) && to > from) r.softnessPx = float(to - from);
    r.halo = float(haloOf(colours, before, p, profile));
    humps.push_back(variation(profile));
    all.push_back(r);
  }
  // The kind goes by the neighbourhood: a single strand does not make hair, a gap between strands is hair still.
  constexpr int kAround = 24;
  constexpr double kHairShare = 0.3;  // of the places around, across which coverage rises again
  constexpr double kSoftPx = 3.5;     // mean width above which an edge is soft
  for (int i = 0; i < count; ++i) {
    double rough = 0, width = 0;
    int n = 0;
    for (int k = std::max(0, i - kAround); k <= std::min(count - 1, i + kAround); ++k, ++n) {
      rough += humps[std::size_t(k)] - 1 > 0.25;
      width += double(all[std::size_t(k)].softnessPx);
    }
    EdgeReading& r = all[std::size_t(i)];
    const double strands = rough / n / kHairShare, wide = width / n / kSoftPx;
    r.kind = strands > 1 ? EdgeKind::hair : (wide > 1 ? EdgeKind::soft : EdgeKind::solid);
    const double apart = std::min(1.0, std::abs(strands - 1)), byWidth = std::min(1.0, std::abs(std::log2(std::max(wide, 0.1))));
    r.confidence = float(r.kind == EdgeKind::hair ? apart : std::min(apart, byWidth));
  }
  if (coverage.failed() || colours.failed() || before.failed())
    return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  return all;
}

std::vector<Stretch> stretchesOf(const Unrolled& outline, const std::vector<EdgeReading>& readings) {
  constexpr int kShortest = 16;
  std::vector<Stretch> runs;
  const auto outlineOf = [&](const Stretch& s) { return outline.places[std::size_t(s.first)].outline; };
  for (int i = 0; i < int(readings.size()); ++i) {
    const EdgeReading& r = readings[std::size_t(i)];
    const bool goesOn =
        !runs.empty() && runs.back().kind == r.kind && outlineOf(runs.back()) == outline.places[std::size_t(i)].outline;
    if (!goesOn) runs.push_back({i, 0, r.kind, 0});
    ++runs.back().count;
    runs.back().confidence += r.confidence;
  }
  // Whether runs i and i + 1 follow one another on one outline.
  const auto joined = [&](std::size_t i) { return i + 1 < runs.size() && outlineOf(runs[i]) == outlineOf(runs[i + 1]); };
  const auto joinedBefore = [&](std::size_t i) { return i > 0 && joined(i - 1); };
  for (;;) {
    std::size_t shortest = runs.size();
    for (std::size_t i = 0; i < runs.size(); ++i) {
      const bool less = shortest == runs.size() || runs[i].count < runs[shortest].count;
      if (less && runs[i].count < kShortest && (joined(i) || joinedBefore(i))) shortest = i;
    }
    if (shortest == runs.size()) break;
    const bool back = !joined(shortest) || (joinedBefore(shortest) && runs[shortest - 1].count >= runs[shortest + 1].count);
    // What was taken for another kind adds length, not confidence.
    Stretch& into = runs[back ? shortest - 1 : shortest + 1];
    into.first = std::min(into.first, runs[shortest].first);
    into.count += runs[shortest].count;
    runs.erase(runs.begin() + std::ptrdiff_t(shortest));
    for (std::size_t i = runs.size(); i-- > 0;) {
      if (!joined(i) || runs[i].kind != runs[i + 1].kind) continue;
      runs[i].count += runs[i + 1].count;
      runs[i].confidence += runs[i + 1].confidence;
      runs.erase(runs.begin() + std::ptrdiff_t(i + 1));
    }
  }
  for (Stretch& s : runs) s.confidence /= float(s.count);
  return runs;
}

const char* nameOf(EdgeKind kind) {
  constexpr std::array<const char*, 3> kNames = {"solid", "soft", "hair"};
  return kNames[std::size_t(kind)];
}

base::Result<image::Raster<std::uint8_t>> edgeStrip(const Unrolled& outline, int first, int count, int reach,
                                                    const image::TiledImage& mask, const image::TiledImage& shown,
                                                    const std::array<double, 3>& ground) {
  Sampler coverage(mask), colours(shown);
  const auto& table = image::transferTables();
  std::array<float, 3> below;
  for (std::size_t c = 0; c < 3; ++c) below[c] = image::fastLinear(float(ground[c]), table);
  image::Raster<std::uint8_t> strip(count, 2 * reach + 1, 3);
  for (int i = 0; i < count; ++i) {
    const Unrolled::Place& p = outline.places[std::size_t(first) + std::size_t(i)];
    for (int row = 0; row <= 2 * reach; ++row) {
      const double d = reach - row, x = p.at.x + p.outward.x * d, y = p.at.y + p.outward.y * d;
      const float a = coverage.at(x, y, 0);
      std::uint8_t* to = strip.at(i, row);
      for (int c = 0; c < 3; ++c) {
        const float light = a * image::fastLinear(colours.at(x, y, c), table) + (1 - a) * below[std::size_t(c)];
        to[c] = std::uint8_t(std::lround(std::clamp(image::fastEncoded(light, table), 0.f, 1.f) * 255));
      }
    }
  }
  if (coverage.failed() || colours.failed())
    return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  return strip;
}

}  // namespace hseam::matte
