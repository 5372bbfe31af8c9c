#pragma once
// Adjustments with a neighbourhood (scene::looksAround): one function each, in its own file, listed in the table of effect.cpp.

#include "core/base/geometry.h"
#include "core/render/planes.h"
#include "core/scene/adjustment_kinds.h"

namespace hseam::render {

/// The area an effect is applied to.
struct EffectWindow {
  base::Rect area;    // px of the level; the planes are its rows in order
  int level = 0;      // lengths are given in scene px: 1/2ⁿ of that here
  base::Size canvas;  // scene px
  double px(double scenePx) const { return scenePx / (1 << level); }
};

/// Changes the planes (straight encoded colours, and coverage) in place. Beyond the window its border is repeated, so results
/// within the effect's reach of a border inside the canvas are wrong; the caller passes a larger window and crops. behind: what
/// lies under the layer that the effect is confined to, or null. Coverage changes only if the kind says so. Colours stay finite
/// where coverage is 0.
void applyEffect(const scene::ParametricAdjustment& effect, const EffectWindow& window, Planes& planes, const Planes* behind);

namespace effects {

// Each in the file of its name; values in the order of the kind's fields.
using Values = std::vector<double>;
void gaussian(const Values& v, const EffectWindow& w, Planes& p);
void motion(const Values& v, const EffectWindow& w, Planes& p);
void defocus(const Values& v, const EffectWindow& w, Planes& p);
void sharpen(const Values& v, const EffectWindow& w, Planes& p);
void deblur(const Values& v, const EffectWindow& w, Planes& p);
void localContrast(const Values& v, const EffectWindow& w, Planes& p);
void recover(const Values& v, const EffectWindow& w, Planes& p);
void denoise(const Values& v, const EffectWindow& w, Planes& p);
void evenOut(const Values& v, const EffectWindow& w, Planes& p);
void grain(const Values& v, const EffectWindow& w, Planes& p);
void corners(const Values& v, const EffectWindow& w, Planes& p);
void haze(const Values& v, const EffectWindow& w, Planes& p);
void flare(const Values& v, const EffectWindow& w, Planes& p);
void lightWrap(const Values& v, const EffectWindow& w, Planes& p, const Planes& behind);

}  // namespace effects
}  // namespace hseam::render
