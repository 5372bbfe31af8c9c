#include "core/paint/sweep.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/paint/sweep.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#ifndef HSEAM_PAINT_SWEEP_RUN
#define HSEAM_PAINT_SWEEP_RUN
namespace hseam::paint {

// A run of pixels seen from the segment's beginning, in single precision: small numbers wherever on the picture it is.
struct Run {
  float x, y;             // of the first pixel's centre, from the segment's beginning
  float dx, dy;           // the segment
  float perLength2;       // 1 / length², 0 for a dot
  float radius, grows;    // radius at the beginning, change to the end
  float strength, gains;  // · 255
  float hardness;
};

}  // namespace hseam::paint
#endif

HWY_BEFORE_NAMESPACE();
namespace hseam::paint::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void cover(const Run& r, int count, std::uint8_t* out) {
  const hn::ScalableTag<float> d;
  const hn::RebindToSigned<decltype(d)> di;
  const hn::Rebind<std::uint8_t, decltype(d)> d8;
  const auto set = [&](float v) { return hn::Set(d, v); };
  const auto zero = hn::Zero(d), one = set(1.f), half = set(0.5f), y = set(r.y);
  for (int i = 0; i < count; i += int(hn::Lanes(d))) {
    const auto x = hn::Add(hn::Iota(d, float(i)), set(r.x));
    const auto along = hn::Mul(hn::Add(hn::Mul(x, set(r.dx)), hn::Mul(y, set(r.dy))), set(r.perLength2));
    const auto t = hn::Min(hn::Max(along, zero), one);
    const auto qx = hn::Sub(x, hn::Mul(t, set(r.dx))), qy = hn::Sub(y, hn::Mul(t, set(r.dy)));
    const auto distance = hn::Sqrt(hn::Add(hn::Mul(qx, qx), hn::Mul(qy, qy)));
    const auto radius = hn::Add(set(r.radius), hn::Mul(t, set(r.grows)));
    const auto inner = hn::Min(hn::Mul(radius, set(r.hardness)), hn::Sub(radius, half));
    const auto outer = hn::Max(radius, hn::Add(inner, one));
    const auto u = hn::Min(hn::Max(hn::Div(hn::Sub(outer, distance), hn::Sub(outer, inner)), zero), one);
    const auto profile = hn::Mul(hn::Mul(u, u), hn::Sub(set(3.f), hn::Add(u, u)));
    const auto value = hn::Add(hn::Mul(profile, hn::Add(set(r.strength), hn::Mul(t, set(r.gains)))), half);
    hn::StoreU(hn::DemoteTo(d8, hn::ConvertTo(di, value)), d8, out + i);
  }
}

}  // namespace hseam::paint::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::paint {

HWY_EXPORT(cover);

TipRadii tipRadii(double radius, double hardness) {
  const double inner = std::min(radius * hardness, radius - 0.5);
  return {inner, std::max(radius, inner + 1)};
}

Sweep::Sweep(const End& from, const End& to, double hardness) : from_(from), to_(to), hardness_(hardness) {}

void Sweep::row(int x, int y, int count, std::uint8_t* out) const {
  const double dx = to_.at.x - from_.at.x, dy = to_.at.y - from_.at.y, length2 = dx * dx + dy * dy;
  const Run run{float(x + 0.5 - from_.at.x),
                float(y + 0.5 - from_.at.y),
                float(dx),
                float(dy),
                length2 > 0 ? float(1 / length2) : 0.f,
                float(from_.radius),
                float(to_.radius - from_.radius),
                float(from_.strength * 255),
                float((to_.strength - from_.strength) * 255),
                float(hardness_)};
  HWY_DYNAMIC_DISPATCH(cover)(run, count, out);
}

std::pair<int, int> Sweep::reach(int y) const {
  const double r = tipRadii(std::max(from_.radius, to_.radius), hardness_).outer + 1, at = y + 0.5;
  const double away = std::max({0.0, std::min(from_.at.y, to_.at.y) - at, at - std::max(from_.at.y, to_.at.y)});
  if (away >= r) return {0, 0};
  const double half = std::sqrt(r * r - away * away);
  return {int(std::floor(std::min(from_.at.x, to_.at.x) - half)), int(std::ceil(std::max(from_.at.x, to_.at.x) + half))};
}

base::Rect Sweep::bounds() const {
  const double r = tipRadii(std::max(from_.radius, to_.radius), hardness_).outer + 1;
  const int l = int(std::floor(std::min(from_.at.x, to_.at.x) - r)), t = int(std::floor(std::min(from_.at.y, to_.at.y) - r));
  return {l, t, int(std::ceil(std::max(from_.at.x, to_.at.x) + r)) - l, int(std::ceil(std::max(from_.at.y, to_.at.y) + r)) - t};
}

}  // namespace hseam::paint
#endif
