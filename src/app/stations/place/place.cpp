#include "app/stations/place/place.h"

#include "app/stations/place/another_background.h"
#include "app/stations/place/arrange.h"
#include "app/stations/place/bend.h"
#include "app/stations/place/canvas_size.h"
#include "app/stations/place/floor_page.h"
#include "app/stations/place/guides.h"
#include "app/stations/place/place_light_page.h"
#include "app/stations/place/shooting_list_page.h"

namespace hseam::app {

Place::Place(Desk& desk) : Station(desk) {
  heading(tr("The active picture"));
  set_ = add(new SetInPlacePage(desk));
  add(new Bend(desk));
  add(new Arrange(desk));
  heading(tr("The scene"));
  auto* floor = add(new FloorPage(desk));
  add(new PlaceLightPage(desk));
  add(new AnotherBackground(desk));
  add(new CanvasSize(desk));
  guides_ = add(new Guides(desk));
  add(new ShootingListPage(desk));
  set_->tool().setRule([floor](const scene::Placement& p) { return floor->keepsSize() ? floor->standing(p).value_or(p) : p; });
  openPage(QStringLiteral("set-in-place"));
}

// A picture can be moved while none of the pages that work on the picture is open.
Instrument* Place::instrument() {
  Page* open = currentPage();
  return !open || open == guides_ ? set_->instrument() : open->instrument();
}

NextStep Place::nextStep() const {
  const auto* p = activePicture();
  if (!p)
    return {tr("Choose a picture to place"),
            tr("Click its card in the sheet. The front of the sheet is the front of the scene."),
            {},
            {}};
  if (p->placement.scale > 1.1) {
    return {tr("%1 is enlarged").arg(activeName()),
            tr("At %1 % it is softer than a picture at its true size.").arg(p->placement.scale * 100, 0, 'f', 0),
            {},
            {}};
  }
  return onTo(kMatch, tr("Set %1 in place").arg(activeName()),
              tr("Drag it on the picture. In the sheet, cards further up stand in front. Then match it to the light there."),
              tr("Go on to Match"));
}

std::pair<RunOfWork::Stitch, QString> Place::state() const {
  int placed = 0;
  for (const auto& l : scene::allLayers(desk_.session.scene())) placed += l->picture() != nullptr;
  if (placed < 2) return {RunOfWork::Stitch::none, tr("needs two pictures")};
  return {RunOfWork::Stitch::tight, tr("%1 in place").arg(placed)};
}

}  // namespace hseam::app
