#include "core/render/adjust.h"

#include <algorithm>
#include <bit>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/adjust.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#include "core/render/vector_colour-inl.h"

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

// A table's entry holds the value at its step and the way to the next one: one gather instead of two, which is most of the cost.
void lookUp(const std::int32_t* table, int steps, const float* from, float* to, int padded) {
  const Float d;
  const Int di;
  const auto scale = hn::Set(d, float(steps)), unit = hn::Set(d, 1.f / 65535.f);
  for (int i = 0; i < padded; i += int(hn::Lanes(d))) {
    const auto at = hn::Mul(clamped(d, hn::Load(d, from + i)), scale);
    const auto k = hn::ConvertTo(di, at);
    const auto w = hn::Sub(at, hn::ConvertTo(d, k));
    const auto entry = hn::GatherIndex(di, table, k);
    const auto value = hn::ConvertTo(d, hn::And(hn::ShiftRight<16>(entry), hn::Set(di, 0xffff)));
    const auto halfWay = hn::ConvertTo(d, hn::ShiftRight<16>(hn::ShiftLeft<16>(entry)));
    hn::Store(hn::Mul(hn::Add(value, hn::Mul(w, hn::Add(halfWay, halfWay))), unit), d, to + i);
  }
}

HWY_INLINE Rgb loaded(Float d, const Planes& p, int i) {
  return {hn::Load(d, p.colour(0) + i), hn::Load(d, p.colour(1) + i), hn::Load(d, p.colour(2) + i)};
}
HWY_INLINE void stored(Float d, const Rgb& c, Planes& p, int i) {
  hn::Store(c.r, d, p.colour(0) + i);
  hn::Store(c.g, d, p.colour(1) + i);
  hn::Store(c.b, d, p.colour(2) + i);
}

// scene::ColourBalance in single precision.
void balance(const scene::ColourBalance& b, const Planes& in, Planes& out) {
  const Float d;
  constexpr float kReach = 0.25f;
  const auto one = hn::Set(d, 1.f);
  const auto set = [&](double v) { return hn::Set(d, float(v)); };
  for (int i = 0, n = in.padded(); i < n; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto t = clamped(d, lum(d, c)), rest = hn::Sub(one, t);
    const auto darks = hn::Mul(rest, rest), mids = hn::Mul(hn::Add(t, t), rest), lights = hn::Mul(t, t);
    const auto shift = [&](double dark, double mid, double light) {
      const auto sum = hn::Add(hn::Add(hn::Mul(darks, set(dark)), hn::Mul(mids, set(mid))), hn::Mul(lights, set(light)));
      return hn::Mul(hn::Set(d, kReach), sum);
    };
    const auto x = shift(b.darks.x, b.mids.x, b.lights.x), y = shift(b.darks.y, b.mids.y, b.lights.y);
    const auto common = hn::Mul(y, hn::Set(d, 0.11f / 0.89f));
    const Rgb moved{hn::Add(hn::Add(c.r, x), common), hn::Add(hn::Sub(c.g, hn::Mul(x, hn::Set(d, 0.30f / 0.59f))), common),
                    hn::Sub(c.b, y)};
    stored(d, clipColor(d, moved), out, i);
  }
}

void saturate(double amount, const Planes& in, Planes& out) {
  const Float d;
  const auto k = hn::Set(d, float(1 + amount));
  for (int i = 0, n = in.padded(); i < n; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto l = lum(d, c);
    stored(d, clipColor(d, {towards(l, c.r, k), towards(l, c.g, k), towards(l, c.b, k)}), out, i);
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {
namespace {

HWY_EXPORT(lookUp);
HWY_EXPORT(balance);
HWY_EXPORT(saturate);

constexpr int kSteps = 2048;
constexpr std::size_t kKept = 32;

}  // namespace

BakedAdjustment::BakedAdjustment(const scene::Adjustment& a) : adjustment_(a) {
  if (!scene::actsByChannel(a)) return;
  const scene::AdjustmentFunction f(a);
  std::vector<std::array<double, 3>> values;
  for (int k = 0; k <= kSteps; ++k) {
    const double v = double(k) / kSteps;
    values.push_back(f({v, v, v}));
  }
  values.push_back(values.back());
  for (std::size_t c = 0; c < 3; ++c) {
    const auto at = [&](std::size_t k) { return long(std::lround(std::clamp(values[k][c], 0.0, 1.0) * 65535)); };
    for (std::size_t k = 0; k + 1 < values.size(); ++k) {
      const long halfWay = std::lround(double(at(k + 1) - at(k)) / 2);
      tables_[c].push_back(std::bit_cast<std::int32_t>(std::uint32_t(at(k)) << 16 | std::uint16_t(std::int16_t(halfWay))));
    }
    // Channels of one curve share one table, which then stays in the first-level cache.
    tableOf_[c] = c > 0 && tables_[c] == tables_[0] ? 0 : c;
  }
}

void BakedAdjustment::apply(const Planes& in, Planes& out) const {
  if (const auto* b = std::get_if<scene::ColourBalance>(&adjustment_)) {
    HWY_DYNAMIC_DISPATCH(balance)(*b, in, out);
  } else if (const auto* s = std::get_if<scene::Saturation>(&adjustment_)) {
    HWY_DYNAMIC_DISPATCH(saturate)(s->amount, in, out);
  } else {
    for (int c = 0; c < 3; ++c)
      HWY_DYNAMIC_DISPATCH(lookUp)(tables_[tableOf_[std::size_t(c)]].data(), kSteps, in.colour(c), out.colour(c), in.padded());
  }
}

std::shared_ptr<const BakedAdjustment> BakedAdjustments::of(const scene::Adjustment& a) {
  {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const auto& b) { return b->adjustment() == a; });
    if (found != kept_.end()) {
      std::rotate(found, found + 1, kept_.end());
      return kept_.back();
    }
  }
  auto baked = std::make_shared<const BakedAdjustment>(a);
  const std::lock_guard lock(mutex_);
  if (kept_.size() >= kKept) kept_.erase(kept_.begin());
  kept_.push_back(baked);
  return baked;
}

}  // namespace hseam::render
#endif
