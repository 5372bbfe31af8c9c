#include "core/render/effects/effect.h"

namespace hseam::render {
namespace {

using scene::AdjustmentId;
struct Entry {
  AdjustmentId id;
  void (*run)(const effects::Values&, const EffectWindow&, Planes&);
};
constexpr Entry kEffects[] = {{AdjustmentId::gaussian, effects::gaussian},   {AdjustmentId::motion, effects::motion},
                              {AdjustmentId::defocus, effects::defocus},     {AdjustmentId::sharpen, effects::sharpen},
                              {AdjustmentId::local, effects::localContrast}, {AdjustmentId::recover, effects::recover},
                              {AdjustmentId::denoise, effects::denoise},     {AdjustmentId::grain, effects::grain},
                              {AdjustmentId::corners, effects::corners},     {AdjustmentId::haze, effects::haze},
                              {AdjustmentId::flare, effects::flare},         {AdjustmentId::deblur, effects::deblur},
                              {AdjustmentId::even, effects::evenOut}};

}  // namespace

void applyEffect(const scene::ParametricAdjustment& effect, const EffectWindow& window, Planes& planes, const Planes* behind) {
  if (effect.id == AdjustmentId::wrap) {
    if (behind) effects::lightWrap(effect.values, window, planes, *behind);
    return;
  }
  for (const Entry& e : kEffects) {
    if (e.id == effect.id) return e.run(effect.values, window, planes);
  }
}

}  // namespace hseam::render
