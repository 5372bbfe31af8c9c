#include "app/stations/gather/gather.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLocale>

#include "app/stations/gather/about_picture.h"
#include "app/stations/gather/add_pictures.h"
#include "app/stations/gather/computer_page.h"
#include "app/stations/gather/fit_page.h"
#include "app/stations/gather/look_after.h"
#include "app/stations/gather/look_through.h"
#include "app/stations/gather/permission_page.h"
#include "app/stations/gather/projects.h"
#include "app/stations/gather/ready_page.h"
#include "app/stations/gather/shelf_page.h"

namespace hseam::app {

Gather::Gather(Desk& desk, Workspace& workspace) : Station(desk), workspace_(workspace) {
  auto* frames = new FrameWork(desk);
  frames->setParent(this);
  heading(tr("Pictures"));
  auto* pictures = add(new AddPictures(desk, workspace));
  connect(add(new LookThrough(desk, workspace, *frames)), &LookThrough::led, this, &Gather::openPage);
  add(new AboutPicture(desk));
  add(new ReadyPage(desk));
  add(new FitPage(desk));
  add(new PermissionPage(desk));
  add(new ShelfPage(desk, workspace));
  add(new BringLayers(desk, workspace));
  heading(tr("Several frames of one place"));
  add(new FramesPage(desk, *frames));
  picks_ = add(new PicksPage(desk, *frames));
  connect(picks_, &PicksPage::placeAsked, this, &Gather::placeAsked);
  add(new LampsPage(desk, *frames));
  heading(tr("Projects"));
  add(new NewScene(desk, workspace));
  auto* projects = add(new OpenProject(desk, workspace));
  add(new LookAfter(desk, workspace));
  add(new ComputerPage(desk));
  connect(pictures, &AddPictures::addAsked, this, &Gather::addAsked);
  connect(projects, &OpenProject::openAsked, this, &Gather::openAsked);
  openPage(QStringLiteral("add"));
}

NextStep Gather::nextStep() const {
  const auto count = desk_.session.scene().layers.size();
  const QStringList left = count == 0 ? workspace_.leftBehind() : QStringList();
  if (!left.isEmpty()) {
    return {tr("Go on with an untitled scene"),
            tr("The program ended on %1 before it had a name. Every finished step is in it.")
                .arg(QLocale().toString(QFileInfo(left.first()).lastModified(), QLocale::ShortFormat)),
            tr("Open it"), [this, path = left.first()] { workspace_.openProject(path); }};
  }
  if (count == 0)
    return {tr("Add two photographs"),
            tr("First the background, then the picture with the subject. Drop them here or choose them."), tr("Choose pictures…"),
            [this] { emit const_cast<Gather*>(this)->addAsked(); }};
  const auto* p = activePicture();
  if (p && p->frames && p->frames->way == scene::FrameSet::Way::picked && p->frames->picks.isNull()) {
    return {tr("Say which place comes from which frame"),
            tr("Choose a frame and stroke over somebody in the picture: they come from that frame, whole."), tr("Pick places"),
            [this] { const_cast<Gather*>(this)->openPage(QStringLiteral("picks")); }};
  }
  if (count == 1 && p && p->frames)
    return onTo(kHandOver, tr("The frames are one picture"),
                tr("Hand it over as it is, or cut it out and set it into another place: it is a picture like any other."),
                tr("Go on to Hand over"));
  if (count == 1)
    return {tr("Add the other photograph"), tr("A subject and a place for it: two pictures make a scene."),
            tr("Choose pictures…"), [this] { emit const_cast<Gather*>(this)->addAsked(); }};
  if (!activePicture())
    return {tr("Choose the subject"), tr("Click the card of the picture with the subject in the sheet at the left."), {}, {}};
  return onTo(kCutOut, tr("Cut out %1").arg(activeName()),
              tr("All pictures are in. The subject is the picture chosen in the sheet at the left; choose another there."),
              tr("Go on to Cut out"));
}

std::pair<RunOfWork::Stitch, QString> Gather::state() const {
  int pictures = 0;
  for (const auto& l : scene::allLayers(desk_.session.scene())) pictures += l->picture() != nullptr;
  if (pictures == 0) return {RunOfWork::Stitch::none, tr("no pictures yet")};
  if (pictures == 1) return {RunOfWork::Stitch::loose, tr("one picture")};
  return {RunOfWork::Stitch::tight, tr("%1 pictures").arg(pictures)};
}

}  // namespace hseam::app
