#pragma once
// What tones and colours of a subject are judged from: its own, those around it, those of the whole scene, and how much places of
// the scene differ among themselves.

#include <functional>

#include "core/findings/judge.h"
#include "core/measure/tones.h"

namespace hseam::findings {

/// Of the reading against the two places where the scene is read: the nearer one counts, and both must lie on one side.
struct Nearer {
  bool available = false;
  double reading = 0;
  double spread = 0;
  Words reason;
  /// Of the reading, what a subject may have of its own: as large as that it is no fault; a factor where it is a ratio.
  double allowance = 0;

  /// What is beyond that.
  double beyond(bool ratio) const;
};
Nearer difference(const measure::Reading& own, const measure::Reading& ring, const measure::Reading& whole);
Nearer ratio(const measure::Reading& own, const measure::Reading& ring, const measure::Reading& whole);

/// Where the picture goes on across the seam, both sides tell what was done to the one.
struct Across {
  bool acts = false;
  Nearer black, white, mid, saturation, cast;
  std::array<double, 3> tint{};
};

/// How much places of the scene as large as the subject differ among themselves.
struct Variety {
  std::vector<float> mids;
  double hue = 0;  // root of the mean square by which their mean a* b* lies off that of all of them
};
/// Places of the scene below which it says too little.
inline constexpr std::size_t kFewPlaces = 5;
/// L*: spread of an end of the tones without a mass of pixels.
inline constexpr double kHazy = 1.5;

/// What tones and colours are judged from.
struct ToneReadings {
  const Pair& p;
  measure::Population own, ring, whole;
  measure::Population colours;  // of the subject, without skin: what a cast and saturation are told from
  measure::Tones t, tr, tw;     // of the three
  Across across;
  Variety variety;
  bool marked = false;
};
/// marked: what the scene is compared by was marked by hand.
ToneReadings toneReadingsOf(const Pair& pair, bool marked);

/// Adds a verdict of that kind. out: writes the sentence and the remedies, where the reading is out; beyond: what they mend,
/// Nearer::beyond.
void take(const Case& c, KindId kind, const Nearer& n, const std::function<void(Verdict&, double beyond)>& out);
/// "2.1 L* above"
Words aboveOrUnder(double by);

void judgeEnds(const Case& c, const ToneReadings& r);
void judgeMiddle(const Case& c, const ToneReadings& r);
void judgeSaturation(const Case& c, const ToneReadings& r);
void judgeCast(const Case& c, const ToneReadings& r);

}  // namespace hseam::findings
