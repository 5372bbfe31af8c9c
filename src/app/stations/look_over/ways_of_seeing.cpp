#include "app/stations/look_over/ways_of_seeing.h"

#include <QObject>

namespace hseam::app {

std::vector<WayOfSeeing> waysOfSeeing() {
  return {
      {Eyes::plain, QObject::tr("as it is"), QObject::tr("The picture in its own colours")},
      {Eyes::grey, QObject::tr("in grey"), QObject::tr("Colours taken away: do the values belong together?")},
      {Eyes::hue, QObject::tr("in hue"), QObject::tr("Values flattened and colour pushed: a cast shows as another colour")},
      {Eyes::saturation, QObject::tr("in saturation"), QObject::tr("Light where it is colourful: does the subject stand out?")},
      {Eyes::clipped, QObject::tr("what is cut off"),
       QObject::tr("Striped where a channel is at its end: burnt highlights, drowned shadows")},
      {Eyes::redGreenBlind, QObject::tr("without red and green"), QObject::tr("As people see it who cannot tell red from green")},
      {Eyes::zones, QObject::tr("in eleven greys"),
       QObject::tr("Lightness in steps of ten L*: which values join, which stand apart?")},
      {Eyes::grain, QObject::tr("its grain, twelve times"),
       QObject::tr(
           "What is left of each pixel when its neighbours are taken off: grain that differs shows at once, best at 1:1")},
      {Eyes::focus, QObject::tr("its focus"),
       QObject::tr("Dark blue is soft, pale yellow is sharp, grey tells nothing: best at 1:1")}};
}

}  // namespace hseam::app
