#pragma once
// Readings for the judgement of tones and colours: of the subject, its surroundings and the whole scene, and how much places of
// the scene vary.

#include <functional>

#include "core/findings/judge.h"
#include "core/measure/tones.h"

namespace hseam::findings {

/// Compares the subject with its surroundings and with the whole scene. The smaller difference counts; both must have one sign.
struct Nearer {
  bool available = false;
  double reading = 0;
  double spread = 0;
  Words reason;
  /// How far a subject may differ by its nature without being at fault; a factor where the reading is a ratio.
  double allowance = 0;

  /// The part of the reading beyond the allowance.
  double beyond(bool ratio) const;
};
Nearer difference(const measure::Reading& own, const measure::Reading& ring, const measure::Reading& whole);
Nearer ratio(const measure::Reading& own, const measure::Reading& ring, const measure::Reading& whole);

/// Where the same surface lies on both sides of the seam, their difference shows what was done to the layer.
struct Across {
  bool acts = false;
  Nearer black, white, mid, saturation, cast;
  std::array<double, 3> tint{};
};

/// How much places of the scene vary that are as large as the subject.
struct Variety {
  std::vector<float> mids;
  double hue = 0;  // root mean square distance of their mean a* b* from the overall mean
};
/// With fewer places, Variety is not used.
inline constexpr std::size_t kFewPlaces = 5;
/// Spread, L*, of an end of the tones that few pixels reach.
inline constexpr double kHazy = 1.5;

/// What tones and colours are judged from.
struct ToneReadings {
  const Pair& p;
  measure::Population own, ring, whole;
  measure::Population colours;  // of the subject without skin: for cast and saturation
  measure::Tones t, tr, tw;     // of the three
  Across across;
  Variety variety;
  bool marked = false;
};
/// marked: the part of the scene to compare with was marked by hand.
ToneReadings toneReadingsOf(const Pair& pair, bool marked);

/// Adds a verdict of that kind. If the reading is out of tolerance, calls out(verdict, n.beyond()) to add the sentence and the
/// remedies.
void take(const Case& c, KindId kind, const Nearer& n, const std::function<void(Verdict&, double beyond)>& out);
/// "2.1 L* above"
Words aboveOrUnder(double by);

void judgeEnds(const Case& c, const ToneReadings& r);
void judgeMiddle(const Case& c, const ToneReadings& r);
void judgeSaturation(const Case& c, const ToneReadings& r);
void judgeCast(const Case& c, const ToneReadings& r);

}  // namespace hseam::findings
