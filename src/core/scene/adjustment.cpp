#include "core/scene/adjustment.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"
#include "core/scene/colour_functions.h"

namespace hseam::scene {
namespace {

// Directions of the plane in encoded RGB, both of luma 0 (0.3, 0.59, 0.11): towards red against green, yellow against blue.
// Full throw moves the strongest channel by 0.25.
constexpr double kReach = 0.25;
constexpr std::array<double, 3> kTowardsRed = {kReach, -kReach * 0.30 / 0.59, 0};
constexpr std::array<double, 3> kTowardsYellow = {kReach * 0.11 / 0.89, kReach * 0.11 / 0.89, -kReach};

CurvePoints curveOf(const Adjustment& a, int which) {
  const auto* c = std::get_if<Curves>(&a);
  if (!c) return {};
  switch (which) {
    case 0:
      return c->rgb;
    case 1:
      return c->red;
    case 2:
      return c->green;
    case 3:
      return c->blue;
    default:
      return c->lightness;
  }
}

double levelled(const Levels& l, double v) {
  const double t = std::clamp((v - l.black) / (l.white - l.black), 0.0, 1.0);
  return l.outBlack + (l.outWhite - l.outBlack) * std::pow(t, 1 / l.middle);
}

std::array<double, 3> balanced(const ColourBalance& b, const std::array<double, 3>& rgb) {
  const double t = std::clamp(luma(rgb), 0.0, 1.0);
  const double shadows = (1 - t) * (1 - t), midtones = 2 * t * (1 - t), highlights = t * t;
  const double x = shadows * b.shadows.x + midtones * b.midtones.x + highlights * b.highlights.x;
  const double y = shadows * b.shadows.y + midtones * b.midtones.y + highlights * b.highlights.y;
  std::array<double, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = rgb[c] + x * kTowardsRed[c] + y * kTowardsYellow[c];
  return clippedToGamut(out);
}

std::array<double, 3> saturated(const Saturation& s, const std::array<double, 3>& rgb) {
  const double l = luma(rgb);
  std::array<double, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = l + (rgb[c] - l) * (1 + s.amount);
  return clippedToGamut(out);
}

// An adjustment that acts on each channel alone.
struct ByChannel {
  const Adjustment& adjustment;
  const std::array<MonotoneCurve, 5>& curves;
  double operator()(std::size_t channel, double v) const {
    if (const auto* l = std::get_if<Levels>(&adjustment)) return levelled(*l, v);
    if (const auto* e = std::get_if<Exposure>(&adjustment))
      return image::encodedFromLinear(std::min(1.0, image::linearFromEncoded(v) * std::exp2(e->stops)));
    return curves[channel + 1](curves[0](v));
  }
};

// All of a pixel's light times one factor, so that its L* becomes what the curve says.
std::array<double, 3> relit(const std::array<double, 3>& rgb, const MonotoneCurve& curve) {
  std::array<double, 3> light{};
  for (std::size_t c = 0; c < 3; ++c) light[c] = image::linearFromEncoded(rgb[c]);
  const double y = 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2];
  const double wanted = luminanceOfLightness(curve(lightnessOfLuminance(y)));
  std::array<double, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = image::encodedFromLinear(y > 1e-6 ? light[c] * wanted / y : wanted);
  return clippedToGamut(out);
}

}  // namespace

double lightnessOfLuminance(double y) {
  return (y > 216.0 / 24389 ? 116 * std::cbrt(y) - 16 : y * 24389 / 27) / 100;
}
double luminanceOfLightness(double l) {
  const double f = (100 * l + 16) / 116;
  return l > 0.08 ? f * f * f : 100 * l * 27 / 24389;
}

std::array<double, 3> colourOfTone(const TonesToColours& t, double tone) {
  std::size_t i = 0;
  while (i + 2 < t.stops.size() && tone > t.stops[i + 1].at) ++i;
  const auto &a = t.stops[i], &b = t.stops[i + 1];
  const double w = std::clamp((tone - a.at) / (b.at - a.at), 0.0, 1.0);
  std::array<double, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = a.colour[c] + w * (b.colour[c] - a.colour[c]);
  return out;
}

const char* adjustmentName(const Adjustment& a) {
  if (const auto* n = std::get_if<ParametricAdjustment>(&a)) return n->of().name;
  static constexpr const char* kNames[] = {"curves",     "levels", "colour balance",   "exposure",
                                           "saturation", "",       "tones to colours", "colour table"};
  return kNames[a.index()];
}

base::Status validAdjustment(const Adjustment& a) {
  const auto wrong = [](const char* what) { return base::Error{base::Code::invalid, "", what}; };
  if (const auto* c = std::get_if<Curves>(&a)) {
    for (const CurvePoints* p : {&c->rgb, &c->red, &c->green, &c->blue, &c->lightness}) {
      if (!validCurve(*p)) return wrong("a curve's points must rise from left to right, within 0 to 1");
    }
  } else if (const auto* l = std::get_if<Levels>(&a)) {
    if (!(l->black >= 0 && l->black < l->white && l->white <= 1))
      return wrong("the black level must lie below the white level, within 0 to 1");
    if (!(l->middle >= 0.1 && l->middle <= 10)) return wrong("the middle level must lie within 0.1 to 10");
    if (!(l->outBlack >= 0 && l->outBlack <= 1 && l->outWhite >= 0 && l->outWhite <= 1))
      return wrong("output levels must lie within 0 to 1");
  } else if (const auto* b = std::get_if<ColourBalance>(&a)) {
    for (const Tint& t : {b->shadows, b->midtones, b->highlights}) {
      if (!(std::abs(t.x) <= 1 && std::abs(t.y) <= 1)) return wrong("a tint must lie within -1 to 1");
    }
  } else if (const auto* e = std::get_if<Exposure>(&a)) {
    if (!(std::abs(e->stops) <= 10)) return wrong("exposure must lie within -10 to 10 stops");
  } else if (const auto* s = std::get_if<Saturation>(&a)) {
    if (!(s->amount >= -1 && s->amount <= 2)) return wrong("saturation must lie within -1 to 2");
  } else if (const auto* n = std::get_if<ParametricAdjustment>(&a)) {
    return validParameters(*n);
  } else if (const auto* t = std::get_if<TonesToColours>(&a)) {
    if (t->stops.size() < 2 || t->stops.size() > 7) return wrong("tones to colours takes 2 to 7 colours");
    double before = -1;
    for (const TonesToColours::Stop& stop : t->stops) {
      if (!(stop.at > before && stop.at >= 0 && stop.at <= 1)) return wrong("the tones of its colours must rise, within 0 to 1");
      before = stop.at;
      for (const double v : stop.colour) {
        if (!(v >= 0 && v <= 1)) return wrong("a colour must lie within 0 to 1");
      }
    }
  } else if (const auto* lookup = std::get_if<TableLookup>(&a)) {
    const ColourTable* t3 = lookup->table.get();
    if (!t3 || t3->side < 2 || t3->values.size() != 3 * std::size_t(t3->side) * std::size_t(t3->side) * std::size_t(t3->side))
      return wrong("the colour table is not complete");
  }
  return {};
}

bool actsByChannel(const Adjustment& a) {
  if (const auto* c = std::get_if<Curves>(&a)) return c->lightness.empty();
  if (const auto* n = std::get_if<ParametricAdjustment>(&a)) return n->of().acts == AdjustmentKind::Acts::byChannel;
  return std::holds_alternative<Levels>(a) || std::holds_alternative<Exposure>(a);
}

bool looksAround(const Adjustment& a) {
  const auto* n = std::get_if<ParametricAdjustment>(&a);
  return n && n->of().acts >= AdjustmentKind::Acts::byPlace;
}

double reachOf(const Adjustment& a) {
  const auto* n = std::get_if<ParametricAdjustment>(&a);
  return n ? reachOf(*n) : 0;
}

AdjustmentFunction::AdjustmentFunction(const Adjustment& a)
    : adjustment_(a),
      curves_{MonotoneCurve(curveOf(a, 0)), MonotoneCurve(curveOf(a, 1)), MonotoneCurve(curveOf(a, 2)),
              MonotoneCurve(curveOf(a, 3)), MonotoneCurve(curveOf(a, 4))} {
  if (const auto* n = std::get_if<ParametricAdjustment>(&a)) {
    withPixelFunction<double>(n->id, n->values, [this](const auto& f) { pixel_ = f; });
  }
}

std::array<double, 3> AdjustmentFunction::operator()(const std::array<double, 3>& rgb) const {
  if (const auto* b = std::get_if<ColourBalance>(&adjustment_)) return balanced(*b, rgb);
  if (const auto* s = std::get_if<Saturation>(&adjustment_)) return saturated(*s, rgb);
  if (const auto* t = std::get_if<TonesToColours>(&adjustment_)) return colourOfTone(*t, luma(rgb));
  if (const auto* l = std::get_if<TableLookup>(&adjustment_)) {
    const auto c = lookedUp(*l->table, float(rgb[0]), float(rgb[1]), float(rgb[2]));
    return {double(c[0]), double(c[1]), double(c[2])};
  }
  if (std::holds_alternative<ParametricAdjustment>(adjustment_)) {
    std::array<double, 3> out = rgb;
    if (pixel_) pixel_(out.data());
    return out;
  }
  const ByChannel f{adjustment_, curves_};
  std::array<double, 3> out{};
  for (std::size_t c = 0; c < 3; ++c) out[c] = f(c, rgb[c]);
  const auto* c = std::get_if<Curves>(&adjustment_);
  return c && !c->lightness.empty() ? relit(out, curves_[4]) : out;
}

double luma(const std::array<double, 3>& c) {
  return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
}

std::array<double, 3> clippedToGamut(std::array<double, 3> c) {
  const double l = luma(c), low = std::min({c[0], c[1], c[2]});
  for (double& v : c) {
    if (low < 0 && l > low) v = l + (v - l) * l / (l - low);
  }
  const double high = std::max({c[0], c[1], c[2]});
  for (double& v : c) {
    if (high > 1 && high > l) v = l + (v - l) * (1 - l) / (high - l);
  }
  return c;
}

}  // namespace hseam::scene
