#include "core/tasks/ready.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/level.h"
#include "core/image/transfer.h"
#include "core/measure/sharpness.h"
#include "core/render/renderer.h"
#include "core/scene/colour_functions.h"

namespace hseam::tasks {
namespace {

using base::Error;
using base::Result;
using scene::AdjustmentId;

constexpr double kBendAt = 0.25, kBendBy = 0.12;  // of the S: where it bends, and how far at full contrast

// One part of a readying as an adjustment layer: known again by its name.
struct ReadyPart {
  const char* name;
  scene::Adjustment (*make)(const Readying&);
  void (*take)(const scene::Adjustment&, Readying&);
};

scene::Adjustment number(AdjustmentId id, std::initializer_list<std::pair<const char*, double>> values) {
  scene::ParametricAdjustment p = scene::parametric(id);
  for (const auto& [key, value] : values) p = scene::with(p, key, value);
  return p;
}

const scene::ParametricAdjustment* numbersOf(const scene::Adjustment& a, AdjustmentId id) {
  const auto* p = std::get_if<scene::ParametricAdjustment>(&a);
  return p && p->id == id ? p : nullptr;
}

scene::Curves bent(double contrast) {
  const double by = kBendBy * contrast;
  return {{{0, 0}, {kBendAt, kBendAt - by}, {1 - kBendAt, 1 - kBendAt + by}, {1, 1}}, {}, {}, {}};
}

// In the order in which they act.
const std::array<ReadyPart, 9>& parts() {
  static const std::array<ReadyPart, 9> all{
      {{"ready: exposure", [](const Readying& r) -> scene::Adjustment { return scene::Exposure{r.stops}; },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* e = std::get_if<scene::Exposure>(&a)) r.stops = e->stops;
        }},
       {"ready: warmth",
        [](const Readying& r) {
          return number(AdjustmentId::warmth, {{"mired", r.mired}, {"tint", r.tint}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::warmth)) r.mired = (*p)["mired"], r.tint = (*p)["tint"];
        }},
       {"ready: highlights and shadows",
        [](const Readying& r) {
          return number(AdjustmentId::recover, {{"lights", r.highlights}, {"darks", r.shadows}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::recover)) r.highlights = (*p)["lights"], r.shadows = (*p)["darks"];
        }},
       {"ready: ends of the tones", [](const Readying& r) -> scene::Adjustment { return r.ends; },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* l = std::get_if<scene::Levels>(&a)) r.ends = *l;
        }},
       {"ready: contrast", [](const Readying& r) -> scene::Adjustment { return bent(r.contrast); },
        [](const scene::Adjustment& a, Readying& r) {
          const auto* c = std::get_if<scene::Curves>(&a);
          if (c && c->rgb.size() == 4) r.contrast = (kBendAt - c->rgb[1].second) / kBendBy;
        }},
       {"ready: local contrast",
        [](const Readying& r) {
          return number(AdjustmentId::local, {{"amount", r.local}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::local)) r.local = (*p)["amount"];
        }},
       {"ready: saturation",
        [](const Readying& r) {
          return number(AdjustmentId::vivid, {{"amount", r.vivid}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::vivid)) r.vivid = (*p)["amount"];
        }},
       {"ready: noise reduction",
        [](const Readying& r) {
          return number(AdjustmentId::denoise, {{"lightness", r.denoise}, {"colour", std::min(0.5, 2 * r.denoise)}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::denoise)) r.denoise = (*p)["lightness"];
        }},
       {"ready: sharpening",
        [](const Readying& r) {
          return number(AdjustmentId::sharpen, {{"sigma", r.sharpenPx}, {"amount", r.sharpen}});
        },
        [](const scene::Adjustment& a, Readying& r) {
          if (const auto* p = numbersOf(a, AdjustmentId::sharpen)) r.sharpenPx = (*p)["sigma"], r.sharpen = (*p)["amount"];
        }}}};
  return all;
}

// Whether a part does anything.
bool acts(const ReadyPart& part, const Readying& r) {
  return !(part.make(r) == part.make(Readying()));
}

struct ConfinedRun {
  scene::Position at;                         // of the picture
  std::vector<const scene::Layer*> confined;  // in front of it, back to front
};

Result<ConfinedRun> runOf(const scene::Scene& s, scene::LayerId picture) {
  const scene::Layer* l = scene::findLayer(s, picture);
  if (!l) return Error{base::Code::notFound, "", "the layer is gone"};
  if (!l->picture()) return Error{base::Code::invalid, l->name, "is no picture"};
  ConfinedRun run{*scene::positionOf(s, picture), {}};
  const scene::Layer* parent = scene::findLayer(s, run.at.parent);
  const scene::GroupContent* group = parent ? parent->group() : nullptr;
  const auto& list = group ? group->layers : s.layers;
  for (std::size_t i = std::size_t(run.at.index) + 1; i < list.size() && list[i]->clip; ++i)
    run.confined.push_back(list[i].get());
  return run;
}

std::optional<std::size_t> readyPartOf(const scene::Layer& l) {
  if (!l.adjustment()) return std::nullopt;
  for (std::size_t i = 0; i < parts().size(); ++i) {
    if (l.name == parts()[i].name) return i;
  }
  return std::nullopt;
}

// L* 60 with these a* b*, as linear sRGB.
std::array<double, 3> lightOfCast(const measure::Cast& c) {
  const double fy = (60 + 16.0) / 116, fx = fy + c.a / 500, fz = fy - c.b / 200;
  const auto back = [](double f) { return f > 6.0 / 29 ? f * f * f : 3 * (6.0 / 29) * (6.0 / 29) * (f - 4.0 / 29); };
  const double x = 0.96422 * back(fx), y = back(fy), z = 0.82521 * back(fz);
  // ICC's PCS (D50) to sRGB.
  return {std::max(1e-4, 3.1338561 * x - 1.6168667 * y - 0.4906146 * z),
          std::max(1e-4, -0.9787684 * x + 1.9161415 * y + 0.0334540 * z),
          std::max(1e-4, 0.0719453 * x - 0.2289914 * y + 1.4052427 * z)};
}

// Warmth and tint that give light of one colour (linear) the ratios of another one: Newton steps on the logarithms of red and
// blue against green.
White whiteBetween(const std::array<double, 3>& from, const std::array<double, 3>& to) {
  const auto off = [&](double mired, double tint) {
    const auto m = scene::warmthMatrix(mired, tint);
    std::array<double, 3> v{};
    for (std::size_t i = 0; i < 3; ++i)
      v[i] = std::max(1e-6, m[3 * i] * from[0] + m[3 * i + 1] * from[1] + m[3 * i + 2] * from[2]);
    return std::array<double, 2>{std::log(v[0] / v[1] * to[1] / to[0]), std::log(v[2] / v[1] * to[1] / to[2])};
  };
  White w;
  for (int round = 0; round < 20; ++round) {
    constexpr double kStepMired = 1, kStepTint = 0.01;
    const auto now = off(w.mired, w.tint), byM = off(w.mired + kStepMired, w.tint), byT = off(w.mired, w.tint + kStepTint);
    const double a = (byM[0] - now[0]) / kStepMired, b = (byT[0] - now[0]) / kStepTint, c = (byM[1] - now[1]) / kStepMired,
                 d = (byT[1] - now[1]) / kStepTint, det = a * d - b * c;
    if (std::abs(det) < 1e-12) break;
    const double dm = (-now[0] * d + now[1] * b) / det, dt = (-now[1] * a + now[0] * c) / det;
    w.mired = std::clamp(w.mired + std::clamp(dm, -60.0, 60.0), -110.0, 200.0);
    w.tint = std::clamp(w.tint + std::clamp(dt, -0.5, 0.5), -1.0, 1.0);
    if (std::abs(dm) < 0.01 && std::abs(dt) < 1e-4) break;
  }
  return w;
}

}  // namespace

Readying readyingOf(const scene::Scene& scene, scene::LayerId picture) {
  Readying r;
  const auto run = runOf(scene, picture);
  if (!run.ok()) return r;
  for (const scene::Layer* l : run->confined) {
    if (const auto i = readyPartOf(*l)) parts()[*i].take(l->adjustment()->adjustment, r);
  }
  return r;
}

Result<scene::Several> readied(const scene::Scene& scene, scene::LayerId picture, const Readying& readying) {
  HSEAM_TRY(const ConfinedRun run, runOf(scene, picture));
  scene::Several out{"ready " + scene::findLayer(scene, picture)->name, {}};
  std::array<bool, 9> there{};
  std::vector<std::size_t> line;  // what is confined to the picture, as it will be: parts, or kOther
  constexpr std::size_t kOther = 99;
  for (const scene::Layer* l : run.confined) {
    const std::size_t i = readyPartOf(*l).value_or(kOther);
    if (i != kOther && (there[i] || !acts(parts()[i], readying))) {
      out.edits.push_back({scene::RemoveLayer{l->id}});
      continue;
    }
    line.push_back(i);
    if (i == kOther) continue;
    there[i] = true;
    const scene::Adjustment made = parts()[i].make(readying);
    if (!(made == l->adjustment()->adjustment)) out.edits.push_back({scene::SetAdjustment{l->id, made}});
  }
  std::uint64_t fresh = scene::freeId(scene).value;
  for (std::size_t i = 0; i < parts().size(); ++i) {
    if (there[i] || !acts(parts()[i], readying)) continue;
    // In front of those that act earlier.
    std::size_t at = 0;
    for (std::size_t k = 0; k < line.size(); ++k) at = line[k] < i ? k + 1 : at;
    scene::Layer l;
    l.id = {fresh++};
    l.name = parts()[i].name;
    l.clip = true;
    l.content = scene::AdjustmentContent{parts()[i].make(readying)};
    out.edits.push_back({scene::AddLayer{std::move(l), run.at.parent, run.at.index + 1 + int(at)}});
    line.insert(line.begin() + long(at), i);
  }
  return out;
}

White whiteFor(const std::array<double, 3>& rgb) {
  std::array<double, 3> light{};
  for (std::size_t i = 0; i < 3; ++i) light[i] = std::max(1e-4, image::linearFromEncoded(std::clamp(rgb[i], 0.0, 1.0)));
  return whiteBetween(light, {1, 1, 1});
}

Result<scene::Scene> pictureByItself(const scene::Scene& s, scene::LayerId picture, bool withAdjustments) {
  HSEAM_TRY(const ConfinedRun run, runOf(s, picture));
  const scene::Layer& layer = *scene::findLayer(s, picture);
  scene::Scene own;
  own.canvas = layer.picture()->source.size();
  own.mixing = s.mixing;
  scene::Layer l;
  l.id = layer.id;
  l.name = layer.name;
  scene::PictureContent p;
  p.source = layer.picture()->source;
  l.content = std::move(p);
  if (layer.mask.acts() && layer.mask.coverage.size() == own.canvas) l.mask.coverage = layer.mask.coverage;
  own.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
  for (const scene::Layer* c : run.confined) {
    if (withAdjustments && readyPartOf(*c) && !c->hidden) own.layers.push_back(std::make_shared<const scene::Layer>(*c));
  }
  return own;
}

Result<CutOff> cutOffShares(const scene::Scene& byItself, base::Executor& executor) {
  int level = 0;
  while (double(byItself.canvas.width >> level) * (byItself.canvas.height >> level) > 65536) ++level;
  render::Renderer renderer;
  HSEAM_TRY(const auto small, renderer.render(byItself, base::Rect::of(render::canvasAt(byItself, level)), level, executor));
  CutOff out;
  double all = 0;
  for (std::size_t i = 0; i < small.pixels(); ++i) {
    const float* c = small.samples().data() + 4 * i;
    if (c[3] <= 0) continue;
    out.black += std::min({c[0], c[1], c[2]}) <= 0.5f / 255;
    out.white += std::max({c[0], c[1], c[2]}) >= 254.5f / 255;
    all += 1;
  }
  out.black /= std::max(1.0, all), out.white /= std::max(1.0, all);
  return out;
}

Result<ReadyNumbers> readyNumbers(const scene::Scene& scene, scene::LayerId picture, bool withAdjustments,
                                  base::Executor& executor, const base::Progress& progress) {
  HSEAM_TRY(const scene::Scene own, pictureByItself(scene, picture, withAdjustments));
  constexpr double kTonePixels = 4e6;
  constexpr int kDetailSide = 1400;
  const int level = image::levelOfAtMost(scene::findLayer(scene, picture)->picture()->source, kTonePixels);
  render::Renderer renderer;
  HSEAM_TRY(const auto small,
            renderer.render(own, base::Rect::of(render::canvasAt(own, level)), level, executor, progress.token()));
  const auto inside = measure::inside(small, 0.98f, 0);
  const measure::Part tones{small, inside};
  ReadyNumbers n;
  const measure::Population p = measure::populationOf(tones, 2);
  n.midL = measure::tonesOf(p).mid.value;
  n.light = measure::illuminantOf(tones);
  if (progress.cancelled()) return base::cancelledError();
  const base::Size size = own.canvas;
  const int w = std::min(size.width, kDetailSide), h = std::min(size.height, kDetailSide);
  HSEAM_TRY(const auto fine,
            renderer.render(own, {(size.width - w) / 2, (size.height - h) / 2, w, h}, 0, executor, progress.token()));
  const auto fineInside = measure::inside(fine, 0.98f, 0);
  const measure::Part detail{fine, fineInside};
  n.blurPx = measure::sharpnessOf(detail).typical;
  n.grain = measure::grainLevel(measure::grainOf(detail));
  return n;
}

Readying startingFrom(Readying now, const ReadyNumbers& n) {
  constexpr double kSharpPx = 0.6, kMostPx = 3, kSeenGrain = 1.0 / 255, kTimesGrain = 2, kMostDenoise = 0.12, kAmount = 0.8;
  // What is as sharp as pictures are needs nothing, and what is blurred widely is out of focus, not soft.
  now.sharpen = 0;
  if (n.blurPx.available && n.blurPx.value > kSharpPx && n.blurPx.value < kMostPx)
    now.sharpenPx = std::round(n.blurPx.value * 100) / 100, now.sharpen = kAmount;
  now.denoise = n.grain.available && n.grain.value > kSeenGrain
                    ? std::min(kMostDenoise, std::round(kTimesGrain * n.grain.value * 1000) / 1000)
                    : 0;
  return now;
}

Readying alike(Readying now, const ReadyNumbers& own, const ReadyNumbers& like) {
  const auto light = [](double l) { return std::max(1e-4, scene::luminanceOfLightness(std::clamp(l, 0.0, 100.0) / 100)); };
  now.stops = std::clamp(std::round(100 * std::log2(light(like.midL) / light(own.midL))) / 100, -10.0, 10.0);
  if (own.light.available && like.light.available) {
    const White w = whiteBetween(lightOfCast(own.light), lightOfCast(like.light));
    now.mired = std::round(w.mired), now.tint = std::round(100 * w.tint) / 100;
  }
  return now;
}

}  // namespace hseam::tasks
