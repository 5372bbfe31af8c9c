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
#include "core/scene/colour_functions.h"

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

// A table's entry holds the value at its step and the way to the next one: one gather instead of two, which is most of the cost.
void lookUp(const std::int32_t* table, int steps, const float* in, float* out, int count) {
  const Float d;
  const Int di;
  const auto scale = hn::Set(d, float(steps)), unit = hn::Set(d, 1.f / 65535.f);
  for (int i = 0; i < count; i += int(hn::Lanes(d))) {
    const auto at = hn::Mul(clamped(d, hn::Load(d, in + i)), scale);
    const auto k = hn::ConvertTo(di, at);
    const auto w = hn::Sub(at, hn::ConvertTo(d, k));
    const auto entry = hn::GatherIndex(di, table, k);
    const auto value = hn::ConvertTo(d, hn::And(hn::ShiftRight<16>(entry), hn::Set(di, 0xffff)));
    const auto halfWay = hn::ConvertTo(d, hn::ShiftRight<16>(hn::ShiftLeft<16>(entry)));
    hn::Store(hn::Mul(hn::Add(value, hn::Mul(w, hn::Add(halfWay, halfWay))), unit), d, out + i);
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
void balance(const scene::ColourBalance& b, const Planes& in, Planes& out, int from, int end) {
  const Float d;
  constexpr float kReach = 0.25f;
  const auto one = hn::Set(d, 1.f);
  const auto set = [&](double v) { return hn::Set(d, float(v)); };
  for (int i = from; i < end; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto t = clamped(d, lum(d, c)), rest = hn::Sub(one, t);
    const auto darks = hn::Mul(rest, rest), mids = hn::Mul(hn::Add(t, t), rest), lights = hn::Mul(t, t);
    const auto shift = [&](double dark, double mid, double light) {
      const auto sum = hn::Add(hn::Add(hn::Mul(darks, set(dark)), hn::Mul(mids, set(mid))), hn::Mul(lights, set(light)));
      return hn::Mul(hn::Set(d, kReach), sum);
    };
    const auto x = shift(b.shadows.x, b.midtones.x, b.highlights.x), y = shift(b.shadows.y, b.midtones.y, b.highlights.y);
    const auto common = hn::Mul(y, hn::Set(d, 0.11f / 0.89f));
    const Rgb moved{hn::Add(hn::Add(c.r, x), common), hn::Add(hn::Sub(c.g, hn::Mul(x, hn::Set(d, 0.30f / 0.59f))), common),
                    hn::Sub(c.b, y)};
    stored(d, clipColor(d, moved), out, i);
  }
}

void saturate(double amount, const Planes& in, Planes& out, int from, int end) {
  const Float d;
  const auto k = hn::Set(d, float(1 + amount));
  for (int i = from; i < end; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto l = lum(d, c);
    stored(d, clipColor(d, {towards(l, c.r, k), towards(l, c.g, k), towards(l, c.b, k)}), out, i);
  }
}

// scene::SparingVivid.
void spareVivid(double amount, const Planes& in, Planes& out, int from, int end) {
  const Float d;
  const auto one = hn::Set(d, 1.f), k = hn::Set(d, float(amount)), dark = hn::Set(d, 1e-6f);
  for (int i = from; i < end; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto high = most(c), l = lum(d, c);
    const auto seen = hn::Gt(high, dark);
    const auto s = hn::IfThenElseZero(seen, hn::Div(hn::Sub(high, least(c)), hn::IfThenElse(seen, high, one)));
    const auto by = hn::Add(one, hn::Mul(k, hn::Sub(one, s)));
    stored(d, clipColor(d, {towards(l, c.r, by), towards(l, c.g, by), towards(l, c.b, by)}), out, i);
  }
}

// scene::Warmth: a matrix on light.
void warm(const float* m, const Planes& in, Planes& out, int from, int end) {
  const Float d;
  for (int i = from; i < end; i += int(hn::Lanes(d))) {
    const Rgb c = loaded(d, in, i);
    const auto r = linear(d, c.r), g = linear(d, c.g), b = linear(d, c.b);
    const auto row = [&](const float* k) {
      const auto sum = hn::Add(hn::Mul(hn::Set(d, k[0]), r), hn::Mul(hn::Set(d, k[1]), g));
      return encoded(d, hn::Add(sum, hn::Mul(hn::Set(d, k[2]), b)));
    };
    stored(d, {row(m), row(m + 3), row(m + 6)}, out, i);
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
HWY_EXPORT(spareVivid);
HWY_EXPORT(warm);

constexpr int kSteps = 2048;
constexpr std::size_t kKept = 32;

using MixedRun = std::function<void(const Planes&, Planes&, int from, int end)>;

template <class F>
MixedRun runOfPixels(const F& f) {
  return [f](const Planes& in, Planes& out, int from, int end) {
    for (int i = from; i < end; ++i) {
      float c[3] = {in.colour(0)[i], in.colour(1)[i], in.colour(2)[i]};
      f(c);
      for (int k = 0; k < 3; ++k) out.colour(k)[i] = c[k];
    }
  };
}

// The curve of L*: by luminance, the factor that all of the light gets. Steps follow the square root of luminance, which is near
// enough to L*.
MixedRun relit(const scene::CurvePoints& points) {
  const scene::MonotoneCurve curve(points);
  constexpr int kFactors = 1024;
  std::vector<float> luminance;
  for (int k = 0; k <= kFactors + 1; ++k) {
    const double root = double(k) / kFactors;
    luminance.push_back(float(scene::luminanceOfLightness(curve(scene::lightnessOfLuminance(root * root)))));
  }
  return runOfPixels([luminance](float* c) {
    float light[3];
    for (int k = 0; k < 3; ++k) light[k] = scene::linearOf(c[k]);
    const float y = 0.2126f * light[0] + 0.7152f * light[1] + 0.0722f * light[2];
    const float at = std::sqrt(std::min(y, 1.f)) * float(kFactors), w = at - std::floor(at);
    const auto i = std::size_t(at);
    const float wanted = luminance[i] + w * (luminance[i + 1] - luminance[i]);
    // Over 1 the encoded value goes on in a straight line, so that clipping sees how far it is out.
    for (int k = 0; k < 3; ++k) {
      const float v = y > 1e-6f ? light[k] * wanted / y : wanted;
      c[k] = v <= 1 ? scene::encodedOf(v) : float(image::encodedFromLinear(double(v)));
    }
    scene::clipKeepingLuma(c);
  });
}

MixedRun mixedRun(const scene::Adjustment& a) {
  MixedRun run;
  if (const auto* n = std::get_if<scene::ParametricAdjustment>(&a)) {
    if (n->id == scene::AdjustmentId::vivid) {
      run = [amount = n->values[0]](const Planes& in, Planes& out, int from, int end) {
        HWY_DYNAMIC_DISPATCH(spareVivid)(amount, in, out, from, end);
      };
    } else if (n->id == scene::AdjustmentId::warmth) {
      run = [w = scene::Warmth<float>(n->values)](const Planes& in, Planes& out, int from, int end) {
        HWY_DYNAMIC_DISPATCH(warm)(w.m, in, out, from, end);
      };
    } else if (!scene::actsByChannel(a)) {
      scene::withPixelFunction<float>(n->id, n->values, [&](const auto& f) { run = runOfPixels(f); });
    }
  } else if (const auto* t = std::get_if<scene::TonesToColours>(&a)) {
    std::vector<std::array<float, 3>> colours;
    for (int k = 0; k <= kSteps + 1; ++k) {
      const auto c = scene::colourOfTone(*t, double(k) / kSteps);
      colours.push_back({float(c[0]), float(c[1]), float(c[2])});
    }
    run = runOfPixels([colours](float* c) {
      const float at = scene::clamped(scene::lumaOf(c)) * float(kSteps);
      const auto i = std::size_t(at);
      const float w = at - float(i);
      for (std::size_t k = 0; k < 3; ++k) c[k] = colours[i][k] + w * (colours[i + 1][k] - colours[i][k]);
    });
  } else if (const auto* l = std::get_if<scene::TableLookup>(&a)) {
    run = runOfPixels([table = l->table](float* c) {
      const auto out = scene::lookedUp(*table, c[0], c[1], c[2]);
      for (std::size_t k = 0; k < 3; ++k) c[k] = out[k];
    });
  } else if (const auto* c = std::get_if<scene::Curves>(&a); c && !c->lightness.empty()) {
    run = relit(c->lightness);
  }
  return run;
}

}  // namespace

BakedAdjustment::BakedAdjustment(const scene::Adjustment& a) : BakedAdjustment(std::vector{a}) {}

BakedAdjustment::BakedAdjustment(std::vector<scene::Adjustment> steps) : steps_(std::move(steps)) {
  std::vector<scene::Adjustment> byChannel = steps_;
  if (auto* c = std::get_if<scene::Curves>(&byChannel.front())) c->lightness.clear();
  if (steps_.size() == 1) run_ = mixedRun(steps_.front());
  CORE_CHECK(steps_.size() == 1 || std::all_of(steps_.begin(), steps_.end(), scene::actsByChannel));
  if (scene::actsByChannel(byChannel.front())) bakeChannels(byChannel);
}

void BakedAdjustment::bakeChannels(const std::vector<scene::Adjustment>& steps) {
  std::vector<std::array<double, 3>> values;
  for (int k = 0; k <= kSteps; ++k) values.push_back({double(k) / kSteps, double(k) / kSteps, double(k) / kSteps});
  for (const scene::Adjustment& a : steps) {
    const scene::AdjustmentFunction f(a);
    for (auto& v : values) {
      v = f(v);
      for (double& c : v) c = std::clamp(c, 0.0, 1.0);
    }
  }
  values.push_back(values.back());
  for (std::size_t c = 0; c < 3; ++c) {
    const auto at = [&](std::size_t k) { return long(std::lround(values[k][c] * 65535)); };
    for (std::size_t k = 0; k + 1 < values.size(); ++k) {
      const long halfWay = std::lround(double(at(k + 1) - at(k)) / 2);
      tables_[c].push_back(std::bit_cast<std::int32_t>(std::uint32_t(at(k)) << 16 | std::uint16_t(std::int16_t(halfWay))));
    }
    // Channels of one curve share one table, which then stays in the first-level cache.
    tableOf_[c] = c > 0 && tables_[c] == tables_[0] ? 0 : c;
  }
}

void BakedAdjustment::apply(const Planes& in, Planes& out) const {
  applyTo(in, out, 0, in.padded());
}

void BakedAdjustment::applyTo(const Planes& in, Planes& out, int from, int end) const {
  if (const auto* b = std::get_if<scene::ColourBalance>(&steps_.front())) {
    HWY_DYNAMIC_DISPATCH(balance)(*b, in, out, from, end);
  } else if (const auto* s = std::get_if<scene::Saturation>(&steps_.front())) {
    HWY_DYNAMIC_DISPATCH(saturate)(s->amount, in, out, from, end);
  } else if (tables_[0].empty()) {
    if (run_) run_(in, out, from, end);
  } else {
    for (int c = 0; c < 3; ++c) {
      HWY_DYNAMIC_DISPATCH(lookUp)
      (tables_[tableOf_[std::size_t(c)]].data(), kSteps, in.colour(c) + from, out.colour(c) + from, end - from);
    }
    if (run_) run_(out, out, from, end);
  }
}

void applyAll(const std::vector<std::shared_ptr<const BakedAdjustment>>& adjustments, Planes& planes) {
  constexpr int kPart = 1024;  // three channels of it stay in the first-level cache
  for (int from = 0; from < planes.padded(); from += kPart) {
    for (const auto& a : adjustments) a->applyTo(planes, planes, from, std::min(from + kPart, planes.padded()));
  }
}

std::shared_ptr<const BakedAdjustment> BakedAdjustments::of(const std::vector<const scene::Adjustment*>& steps) {
  const auto same = [&](const std::shared_ptr<const BakedAdjustment>& b) {
    return std::equal(steps.begin(), steps.end(), b->steps().begin(), b->steps().end(),
                      [](const scene::Adjustment* wanted, const scene::Adjustment& kept) { return *wanted == kept; });
  };
  {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(kept_.begin(), kept_.end(), same);
    if (found != kept_.end()) {
      std::rotate(found, found + 1, kept_.end());
      return kept_.back();
    }
  }
  std::vector<scene::Adjustment> own;
  own.reserve(steps.size());
  for (const auto* a : steps) own.push_back(*a);
  auto baked = std::make_shared<const BakedAdjustment>(std::move(own));
  const std::lock_guard lock(mutex_);
  if (kept_.size() >= kKept) kept_.erase(kept_.begin());
  kept_.push_back(baked);
  return baked;
}

}  // namespace hseam::render
#endif
