#include "app/stations/gather/add_pictures.h"

#include <QFileDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

AddPictures::AddPictures(Desk& desk, Workspace& workspace)
    : Page(desk, {"add", tr("Add pictures"), tr("Bring photographs into the scene as layers")}), workspace_(workspace) {
  auto* c = column();
  c->addWidget(
      quietLabel(tr("JPEG, PNG, TIFF, WebP, OpenEXR, camera raw, or the layers of an OpenRaster file. Drop them on the picture, "
                    "choose or paste them. "
                    "The files themselves are never changed.")));
  c->addWidget(rowOf({
      button(tr("Choose pictures…"), tr("Choose one or more picture files (Ctrl+I)"), [this] { emit addAsked(); }),
      button(tr("Paste"), tr("The picture in the clipboard becomes a layer (Ctrl+V)"), [this] { workspace_.paste(); }),
  }));
  replace_ = button(tr("Another picture in its place…"),
                    tr("The active layer gets another picture; its mask, its cut and its adjustments stay"), [this] {
                      const QString path =
                          QFileDialog::getOpenFileName(this, tr("Another picture in its place"), {}, Workspace::picturesFilter());
                      if (!path.isEmpty()) workspace_.replaceActive(path);
                    });
  c->addWidget(replace_);
}

void AddPictures::refresh() {
  replace_->setEnabled(activePicture());
}

BringLayers::BringLayers(Desk& desk, Workspace& workspace)
    : Page(desk, {"bring", tr("Layers of another project"), tr("Subjects with their cuts, adjustments and shadows, taken over")}),
      workspace_(workspace) {
  auto* c = column();
  c->addWidget(button(tr("Look into a project…"), tr("Choose a .hseam file; it is only read"), [this] {
    const QString path = QFileDialog::getOpenFileName(this, tr("Look into a project"), {}, tr("Hidden Seam project (*.hseam)"));
    if (!path.isEmpty()) workspace_.askLayersOf(path);
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
        if (offered_) workspace_.bring(*offered_, chosen);
      });
  offeredList_->hide();
  bring_->hide();
  c->addWidget(offeredList_);
  c->addWidget(bring_);
  connect(&workspace_, &Workspace::layersOffered, this,
          [this](const std::shared_ptr<const Workspace::Offered>& offered) { show(offered); });
}

void BringLayers::show(const std::shared_ptr<const Workspace::Offered>& offered) {
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

}  // namespace hseam::app
