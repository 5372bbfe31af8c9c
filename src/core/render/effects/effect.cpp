#include "core/render/effects/effect.h"

#include <cstring>

namespace hseam::render {
namespace {

struct Entry {
  const char* key;
  void (*run)(const effects::Values&, const EffectWindow&, Planes&);
};
constexpr Entry kEffects[] = {{"gaussian", effects::gaussian}, {"motion", effects::motion},       {"defocus", effects::defocus},
                              {"sharpen", effects::sharpen},   {"local", effects::localContrast}, {"recover", effects::recover},
                              {"denoise", effects::denoise},   {"grain", effects::grain},         {"corners", effects::corners},
                              {"haze", effects::haze},         {"flare", effects::flare},         {"deblur", effects::deblur},
                              {"even", effects::evenOut}};

}  // namespace

void applyEffect(const scene::ParametricAdjustment& effect, const EffectWindow& window, Planes& planes, const Planes* behind) {
  const char* key = effect.of().key;
  if (std::strcmp(key, "wrap") == 0) {
    if (behind) effects::lightWrap(effect.values, window, planes, *behind);
    return;
  }
  for (const Entry& e : kEffects) {
    if (std::strcmp(key, e.key) == 0) return e.run(effect.values, window, planes);
  }
}

}  // namespace hseam::render
