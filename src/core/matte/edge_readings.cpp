#include "core/matte/edge_readings.h"

#include <algorithm>
#include <cmath>

#include "core/image/lab.h"
#include "core/image/sampler.h"

namespace hseam::matte {
namespace {

using image::Sampler;

constexpr int kReadingReach = 24;

using Rgb = std::array<double, 3>;
Rgb colourAt(Sampler& s, const Unrolled::Place& p, double offset) {
  const double x = p.at.x + p.outward.x * offset, y = p.at.y + p.outward.y * offset;
  return {s.at(x, y, 0), s.at(x, y, 1), s.at(x, y, 2)};
}

// Coverage along a normal, every half px from inside to outside.
struct Profile {
  std::array<float, std::size_t(4 * kReadingReach + 1)> alpha;
  static double offset(std::size_t i) { return double(i) / 2 - kReadingReach; }
};

Profile profileAt(Sampler& coverage, const Unrolled::Place& p) {
  Profile profile;
  for (std::size_t k = 0; k < profile.alpha.size(); ++k) {
    const double d = Profile::offset(k);
    profile.alpha[k] = coverage.at(p.at.x + p.outward.x * d, p.at.y + p.outward.y * d, 0);
  }
  // A body ends what can be seen of this edge: beyond one inside, or from one outside on, coverage is another edge's.
  constexpr int kBody = 16;  // half px that are covered without a break: no strand is as thick
  const int all = int(profile.alpha.size()), middle = all / 2;
  const auto covered = [&](int i) { return profile.alpha[std::size_t(i)] > 0.9f; };
  int run = 0, i = middle;
  while (i >= 0 && run < kBody) run = covered(i--) ? run + 1 : 0;
  for (; i >= 0; --i) profile.alpha[std::size_t(i)] = 1;
  const auto fallen = [&](int k) { return profile.alpha[std::size_t(k)] < 0.1f; };
  i = middle;
  while (i < all && !fallen(i)) ++i;
  for (run = 0; i < all && run < kBody; ++i) run = covered(i) ? run + 1 : 0;
  if (run >= kBody) {
    int from = i - run;
    while (from > middle && !fallen(from)) --from;
    std::fill(profile.alpha.begin() + from, profile.alpha.end(), 0.f);
  }
  return profile;
}

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

base::Result<std::vector<EdgeReading>> edgeForms(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                 std::vector<double>* midPx) {
  Sampler coverage(mask);
  std::vector<EdgeReading> all;
  std::vector<double> humps;
  for (int i = first; i < first + count; ++i) {
    const Profile profile = profileAt(coverage, outline.places[std::size_t(i)]);
    EdgeReading r;
    const double from = firstBelow(profile, 0.9f), to = lastAbove(profile, 0.1f);
    if (std::isfinite(from) && std::isfinite(to) && to > from) r.softnessPx = float(to - from);
    humps.push_back(variation(profile));
    all.push_back(r);
    if (midPx) {
      const double in = firstBelow(profile, 0.5f), out = lastAbove(profile, 0.5f);
      midPx->push_back(std::isfinite(in) && std::isfinite(out) ? (in + out) / 2 : 0);
    }
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
  if (coverage.failed()) return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  return all;
}

base::Result<std::vector<EdgeReading>> edgeReadings(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                    const image::TiledImage& shown, const image::TiledImage& source) {
  HSEAM_TRY(std::vector<EdgeReading> all, edgeForms(outline, first, count, mask));
  Sampler coverage(mask), colours(shown), before(source);
  for (int i = 0; i < count; ++i) {
    const Unrolled::Place& p = outline.places[std::size_t(first) + std::size_t(i)];
    all[std::size_t(i)].halo = float(haloOf(colours, before, p, profileAt(coverage, p)));
  }
  if (coverage.failed() || colours.failed() || before.failed())
    return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  return all;
}

std::vector<float> toneSteps(const image::Raster<std::uint8_t>& strip) {
  constexpr int kFrom = 5, kTo = 14;
  const int reach = strip.height() / 2, to = std::min(kTo, reach);
  std::vector<float> steps;
  for (int x = 0; x < strip.width(); ++x) {
    double side[2] = {0, 0};
    for (int d = kFrom; d <= to; ++d) {
      for (int inside = 0; inside < 2; ++inside) {
        const std::uint8_t* c = strip.at(x, inside ? reach + d : reach - d);
        side[inside] += image::labFromEncoded({c[0] / 255.0, c[1] / 255.0, c[2] / 255.0}).l;
      }
    }
    steps.push_back(to < kFrom ? 0.f : float((side[0] - side[1]) / (to - kFrom + 1)));
  }
  return steps;
}

std::vector<Stretch> stretchesOf(const Unrolled& outline, const std::vector<EdgeReading>& readings) {
  constexpr int kShortest = 16;
  std::vector<Stretch> runs;
  const auto outlineOf = [&](const Stretch& s) { return outline.places[std::size_t(s.first)].outline; };
  for (int i = 0; i < int(readings.size()); ++i) {
    const EdgeReading& r = readings[std::size_t(i)];
    const bool surfaceContinues =
        !runs.empty() && runs.back().kind == r.kind && outlineOf(runs.back()) == outline.places[std::size_t(i)].outline;
    if (!surfaceContinues) runs.push_back({i, 0, r.kind, 0});
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

}  // namespace hseam::matte
