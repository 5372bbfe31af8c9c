#include "app/stations/gather.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace hseam::app {

Gather::Gather(Desk& desk, QWidget* parent) : Station(desk, parent) {
  Pleat* add = pleats_->add(tr("Add pictures"), tr("Bring photographs into the scene as layers"));
  add->content()->addWidget(
      quietLabel(tr("JPEG, PNG, TIFF, WebP, OpenEXR, camera raw, or the layers of an OpenRaster file. Drop them on the picture, "
                    "choose or paste them. "
                    "The files themselves are never changed.")));
  add->content()->addWidget(rowOf({
      button(tr("Choose pictures…"), tr("Choose one or more picture files (Ctrl+I)"), [this] { emit addAsked(); }),
      button(tr("Paste"), tr("The picture in the clipboard becomes a layer (Ctrl+V)"), [this] { desk_.paste(); }),
  }));
  replace_ = button(tr("Another picture in its place…"),
                    tr("The active layer gets another picture; its mask, its cut and its adjustments stay"), [this] {
                      const QString path =
                          QFileDialog::getOpenFileName(this, tr("Another picture in its place"), {}, Desk::picturesFilter());
                      if (!path.isEmpty()) desk_.replaceActive(path);
                    });
  add->content()->addWidget(replace_);

  Pleat* about = pleats_->add(tr("About this picture"), tr("What the camera wrote into the file, and whose picture it is"));
  about_ = new AboutPicture;
  about->content()->addWidget(about_);

  Pleat* canvas =
      pleats_->add(tr("Start a new scene"), tr("An empty canvas of a size you type, or the size of the first picture"));
  width_ = new QSpinBox;
  height_ = new QSpinBox;
  for (QSpinBox* box : {width_, height_}) {
    box->setRange(1, image::kMaxSide);
    box->setSuffix(tr(" px"));
    box->setToolTip(tr("Pixels of the new canvas"));
  }
  width_->setAccessibleName(tr("Width of the canvas"));
  height_->setAccessibleName(tr("Height of the canvas"));
  canvas->content()->addWidget(rowOf({width_, new QLabel(QStringLiteral("×")), height_}));
  canvas->content()->addWidget(
      button(tr("New scene of this size"), tr("Begins an untitled scene; this one is kept in its file"), [this] {
        desk_.newScene({width_->value(), height_->value()});
      }));
  canvas->content()->addWidget(
      quietLabel(tr("Or simply add pictures to an empty scene: the first one gives the canvas its size.")));

  Pleat* open = pleats_->add(tr("Open a project"), tr("Go on with a scene that was kept"));
  open->content()->addWidget(button(tr("Choose a project…"), tr("Open a .hseam file"), [this] { emit openAsked(); }));
  recents_ = new QWidget;
  (new QVBoxLayout(recents_))->setContentsMargins(0, 0, 0, 0);
  open->content()->addWidget(recents_);
  Pleat* bring =
      pleats_->add(tr("Layers of another project"), tr("Subjects with their cuts, adjustments and shadows, taken over"));
  bring->content()->addWidget(button(tr("Look into a project…"), tr("Choose a .hseam file; it is only read"), [this] {
    const QString path = QFileDialog::getOpenFileName(this, tr("Look into a project"), {}, tr("Hidden Seam project (*.hseam)"));
    if (!path.isEmpty()) desk_.askLayersOf(path);
  }));
  offeredList_ = new QListWidget;
  offeredList_->setAccessibleName(tr("Layers of the other project"));
  offeredList_->setToolTip(tr("Tick the layers to take over; the front one is on top"));
  offeredList_->setFixedHeight(150);
  bring_ =
      button(tr("Bring them in"), tr("The ticked layers come in front of this scene; the other project stays as it is"), [this] {
        std::vector<scene::LayerId> chosen;
        for (int i = 0; i < offeredList_->count(); ++i) {
          const QListWidgetItem* item = offeredList_->item(i);
          if (item->checkState() == Qt::Checked) chosen.push_back({item->data(Qt::UserRole).toULongLong()});
        }
        if (offered_) desk_.bring(*offered_, chosen);
      });
  offeredList_->hide();
  bring_->hide();
  bring->content()->addWidget(offeredList_);
  bring->content()->addWidget(bring_);
  connect(&desk, &Desk::layersOffered, this, [this](const std::shared_ptr<const Desk::Offered>& offered) { show(offered); });
  lookAfterPleat_ = pleats_->add(tr("Look after this project"), tr("Copies, an archive with all sources, a slimmed copy"));
  lookAfter_ = new LookAfter(desk);
  lookAfterPleat_->content()->addWidget(lookAfter_);
  pleats_->open(add);
}

void Gather::show(const std::shared_ptr<const Desk::Offered>& offered) {
  offered_ = offered;
  offeredList_->clear();
  for (const auto& l : offered->scene.layers) {
    auto* item = new QListWidgetItem(QString::fromStdString(l->name));
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(Qt::Unchecked);
    item->setData(Qt::UserRole, qulonglong(l->id.value));
    offeredList_->insertItem(0, item);
  }
  offeredList_->show();
  bring_->show();
}

void Gather::listRecents() {
  auto* column = static_cast<QVBoxLayout*>(recents_->layout());
  while (QLayoutItem* item = column->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  for (const QString& path : desk_.recents()) {
    column->addWidget(button(QFileInfo(path).completeBaseName(), path, [this, path] { desk_.openProject(path); }));
  }
  for (const QString& path : desk_.leftBehind()) {
    const QString when = QFileInfo(path).lastModified().toString(QStringLiteral("d MMM, hh:mm"));
    auto* open = button(tr("untitled, %1").arg(when), tr("Never named, and still there: every finished step is in it"),
                        [this, path] { desk_.openProject(path); });
    auto* drop = button(tr("Discard"), tr("Delete this untitled scene for good"), [this, path] {
      desk_.discardLeftBehind(path);
      QMetaObject::invokeMethod(
          this, [this] { listRecents(); }, Qt::QueuedConnection);
    });
    column->addWidget(rowOf({open, drop}));
  }
}

void Gather::refresh() {
  const base::Size c = desk_.scene().canvas;
  about_->show(activePicture());
  pleats_->all()[1]->setValue(activePicture() ? exposureWords(activePicture()->about) : QString());
  pleats_->all()[2]->setValue(tr("now %1 × %2").arg(c.width).arg(c.height));
  replace_->setEnabled(activePicture());
  if (pleats_->current() == lookAfterPleat_) lookAfter_->refresh();
  if (!width_->hasFocus() && !height_->hasFocus()) {
    width_->setValue(c.width);
    height_->setValue(c.height);
  }
  listRecents();
}

NextStep Gather::nextStep() const {
  const auto count = desk_.scene().layers.size();
  const QStringList left = count == 0 ? desk_.leftBehind() : QStringList();
  if (!left.isEmpty()) {
    return {tr("Go on with an untitled scene"),
            tr("The program ended on %1 before it had a name. Every finished step is in it.")
                .arg(QLocale().toString(QFileInfo(left.first()).lastModified(), QLocale::ShortFormat)),
            tr("Open it"), [this, path = left.first()] { desk_.openProject(path); }};
  }
  if (count == 0)
    return {tr("Add two photographs"),
            tr("First the background, then the picture with the subject. Drop them here or choose them."), tr("Choose pictures…"),
            [this] { emit const_cast<Gather*>(this)->addAsked(); }};
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
  for (const auto& l : scene::allLayers(desk_.scene())) pictures += l->picture() != nullptr;
  if (pictures == 0) return {RunOfWork::Stitch::none, tr("no pictures yet")};
  if (pictures == 1) return {RunOfWork::Stitch::loose, tr("one picture")};
  return {RunOfWork::Stitch::tight, tr("%1 pictures").arg(pictures)};
}

}  // namespace hseam::app
