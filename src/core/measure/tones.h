#pragma once
// Black point, white point, middle, saturation and cast of a population of pixels.

#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// L* at 0.5 %, 50 % and 99.5 %. Black and white are available only where many pixels lie at that end of the tones: a subject
/// without anything dark has no black point.
struct Tones {
  Reading black, mid, white;
};
Tones tonesOf(const Population& p);

/// Median C*ab.
Reading saturationOf(const Population& p);

/// How colourful it is as a whole, C*ab: the deviation of a* b* and 0.37 of their mean's distance from grey (Hasler, Suesstrunk
/// 2003). Two populations whose colours differ in hue alone are equally colourful. `varied`: the deviation alone; it is small for
/// a wall or a backdrop, whose colourfulness says nothing about a subject in front. Can't tell: fewer than 400 pixels.
struct Colourfulness {
  Reading whole;
  double varied = 0;
};
Colourfulness colourfulnessOf(const Population& p);

/// A colour cast as a* b*, from light on everything.
struct Cast {
  bool available = false;
  double a = 0, b = 0;
  double spread = 0;
};
/// The light's colour by the grey-edge hypothesis: the mean (p = 6) of the derivatives of slightly blurred light is grey under
/// white light (van de Weijer, Gevers, Gijsenij 2007); as a* b* of a mid grey (L* 60) under it.
Cast illuminantOf(const Part& part);

/// The difference of mean a* b*, layer − scene, on the assumption that both have the same mean reflectance (grey world: Buchsbaum
/// 1980). spread: the deviation of the scene's a* b*.
Cast castOfMeans(const Population& layer, const Population& scene);

/// How the colours of one population lie against another's at equal tones: the difference of mean a* b* over the bins of L* that
/// both fill, near-neutrals of `scene` (C* under its lower third) chosen in `scene`, and of `layer` those within the same
/// distance of the same colour allowing for a cast up to 20. Difference layer − scene.
Cast castAtTones(const Population& layer, const Population& scene);

}  // namespace hseam::measure
