#include "app/stations/look_over/reference.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/document/workspace.h"
#include "app/widgets/builders.h"
#include "core/image/picture_file.h"

namespace hseam::app {

Reference::Reference(Desk& desk)
    : Page(desk, {"beside", tr("Side by side"), tr("A reference or an earlier state, pinned beside the picture")}),
      along_(new QCheckBox(tr("moves along with the picture"))),
      name_(quietLabel(tr("nothing is pinned"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(name_);
  column->addWidget(rowOf({
      button(tr("Pin a picture…"), tr("A picture file, shown beside the scene while you work"),
             [this] {
               const QString path = QFileDialog::getOpenFileName(this, tr("Pin a picture"), {}, Workspace::picturesFilter());
               if (!path.isEmpty()) pinPicture(path);
             }),
      button(tr("Pin the scene"), tr("The scene as it is now, to compare with what it becomes"), [this] { pinScene(); }),
  }));
  along_->setToolTip(tr("Zooming and moving one moves the other"));
  connect(along_, &QCheckBox::toggled, this, &Reference::changed);
  column->addWidget(along_);
  column->addWidget(button(tr("Take it away"), tr("The canvas gets all the room again"), [this] { takeAway(); }));
  connect(&desk_.session, &Session::replaced, this, [this] { takeAway(); });
}

bool Reference::goesAlong() const {
  return along_->isChecked();
}

void Reference::pin(scene::Scene scene, const QString& name) {
  scene_ = std::move(scene);
  name_->setText(name);
  emit changed();
}

void Reference::pinPicture(const QString& path) {
  desk_.jobs.start<image::Picture>(
      tr("Read %1").arg(QFileInfo(path).fileName()),
      [path, memory = desk_.session.memory()](base::Executor& e, const base::Progress& p) {
        return image::readPicture(path.toStdString(), memory, e, p);
      },
      [this, path](const image::Picture& picture) {
        scene::Scene s;
        s.canvas = picture.pixels.size();
        scene::Layer l;
        l.id = {1};
        scene::PictureContent content;
        content.source = picture.pixels;
        l.content = std::move(content);
        s.layers = {std::make_shared<const scene::Layer>(std::move(l))};
        pin(std::move(s), tr("pinned: %1").arg(QFileInfo(path).fileName()));
      });
}

void Reference::pinScene() {
  const scene::History& h = desk_.session.history();
  along_->setChecked(true);
  pin(desk_.session.scene(), tr("pinned: the scene after \"%1\"").arg(QString::fromStdString(h.step(h.current()).label)));
}

void Reference::takeAway() {
  if (!scene_) return;
  scene_.reset();
  name_->setText(tr("nothing is pinned"));
  emit changed();
}

}  // namespace hseam::app
