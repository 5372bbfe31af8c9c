#include "app/stations/gather/shelf_page.h"

#include <QComboBox>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/shelf_folder.h"
#include "app/widgets/builders.h"
#include "core/base/temporary_folder.h"
#include "core/image/picture_file.h"
#include "core/store/sources.h"
#include "core/tasks/shelve.h"

namespace hseam::app {
namespace {

constexpr int kIcon = 96, kListHeight = 248;  // px

QString nameOf(store::ShelfKind kind) {
  switch (kind) {
    case store::ShelfKind::sky:
      return QObject::tr("sky");
    case store::ShelfKind::texture:
      return QObject::tr("texture");
    default:
      return QObject::tr("place");
  }
}

// From azimuth and elevation (scene::LightFrom): "light set 40° to the left of the camera, 38° high"
QString lightWords(const std::pair<double, double>& fromDeg) {
  const QString words = fromDeg.first < 0 ? QObject::tr("light set %1° to the left of the camera, %2° high")
                                          : QObject::tr("light set %1° to the right of the camera, %2° high");
  return words.arg(std::abs(fromDeg.first), 0, 'f', 0).arg(fromDeg.second, 0, 'f', 0);
}

QString wordsOf(const store::ShelfItem& i) {
  QStringList said{QObject::tr("%1, %2 × %3 px").arg(nameOf(i.kind)).arg(i.width).arg(i.height)};
  said << (i.horizonY ? QObject::tr("horizon at %1 % of its height").arg(100 * *i.horizonY / i.height, 0, 'f', 0)
                      : QObject::tr("horizon not known"));
  if (i.blurPx > 0) said << QObject::tr("edges blurred by %1 px").arg(i.blurPx, 0, 'f', 1);
  if (i.midL > 0) said << QObject::tr("middle tone L* %1").arg(i.midL, 0, 'f', 0);
  if (i.light) said << QObject::tr("its light: a* %1, b* %2").arg(i.light->first, 0, 'f', 0).arg(i.light->second, 0, 'f', 0);
  if (i.lightFromDeg) said << lightWords(*i.lightFromDeg);
  if (!i.permission) {
    said << QObject::tr("no permission is noted");
  } else if (i.permission->nobodySeen) {
    said << QObject::tr("nobody can be recognised in it");
  } else {
    said << QObject::tr("allowed by %1").arg(QString::fromStdString(i.permission->who));
  }
  return said.join(QStringLiteral("; "));
}

// A picture as a file's bytes, without loss.
base::Result<std::vector<std::byte>> pngOf(const image::TiledImage& picture) {
  const base::TemporaryFolder folder("shelf");
  if (!folder.ok()) return base::Error{base::Code::unwritable, "", "no folder for temporary files could be made"};
  const std::string path = folder.at("picture.png");
  HSEAM_DO(image::writeTiled(path, picture));
  QFile file(QString::fromStdString(path));
  if (!file.open(QIODevice::ReadOnly)) return base::Error{base::Code::unreadable, path, "cannot be read again"};
  const QByteArray bytes = file.readAll();
  const auto* begin = reinterpret_cast<const std::byte*>(bytes.constData());
  return std::vector<std::byte>(begin, begin + bytes.size());
}

}  // namespace

ShelfPage::ShelfPage(Desk& desk, Workspace& workspace)
    : Page(desk, {"shelf", tr("Shelf"), tr("Places, skies and textures of your own, kept across projects")}),
      workspace_(workspace) {
  auto* c = column();
  shown_ = new QComboBox;
  shown_->addItem(tr("everything"));
  kind_ = new QComboBox;
  for (const auto& [k, all] : {std::pair(store::ShelfKind::place, tr("places")),
                               {store::ShelfKind::sky, tr("skies")},
                               {store::ShelfKind::texture, tr("textures")}}) {
    shown_->addItem(all, int(k));
    kind_->addItem(nameOf(k), int(k));
  }
  shown_->setAccessibleName(tr("What of the shelf is shown"));
  shown_->setToolTip(tr("Only the items of one kind"));
  connect(shown_, &QComboBox::activated, this, &ShelfPage::list);
  c->addWidget(namedRow(tr("shown"), shown_));
  list_ = new QListWidget;
  list_->setViewMode(QListView::IconMode);
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setIconSize({kIcon, kIcon});
  list_->setFixedHeight(kListHeight);
  list_->setAccessibleName(tr("The shelf"));
  list_->setToolTip(tr("Choose an item; Return adds it to the scene"));
  connect(list_, &QListWidget::currentRowChanged, this, &ShelfPage::showChosen);
  connect(list_, &QListWidget::itemActivated, this, &ShelfPage::bringIn);
  connect(&thumbnails_, &ThumbnailLoader::ready, this, [this](const QString& path) {
    for (int i = 0; i < list_->count(); ++i) {
      if (list_->item(i)->data(Qt::UserRole + 1).toString() == path)
        list_->item(i)->setIcon(QIcon(QPixmap::fromImage(thumbnails_.get(path))));
    }
  });
  c->addWidget(list_);
  about_ = quietLabel({});
  about_->setAccessibleName(tr("What is known of it"));
  c->addWidget(about_);
  bring_ =
      button(tr("Add it to the scene"), tr("As a layer in front, with its horizon and its permission"), [this] { bringIn(); });
  off_ = button(tr("Take it off"), tr("Its file goes from the shelf; projects that have it keep it"), [this] { takeOff(); });
  c->addWidget(rowOf({bring_, off_}));
  name_ = new QLineEdit;
  name_->setAccessibleName(tr("Its name on the shelf"));
  name_->setToolTip(tr("What the active picture is called on the shelf"));
  c->addWidget(namedRow(tr("name"), name_));
  kind_->setAccessibleName(tr("What the active picture is good for"));
  kind_->setToolTip(tr("A place to stand in, a sky, or a texture"));
  c->addWidget(namedRow(tr("as a"), kind_));
  keep_ = button(tr("Keep the active picture"),
                 tr("The file as it came, with its horizon, blur, light and permission as far as they are known"),
                 [this] { keepActive(); });
  keep_->setProperty("main", true);
  c->addWidget(keep_);
  connect(&desk_.session, &Session::activeChanged, this, [this] { name_->clear(); });
}

void ShelfPage::refresh() {
  if (name_->text().isEmpty() || !name_->isModified()) name_->setText(activePicture() ? activeName() : QString());
  keep_->setEnabled(activePicture() != nullptr);
  list();
}

QString ShelfPage::words() const {
  return shelf_.items.empty() ? QString() : tr("%1 kept").arg(shelf_.items.size());
}

void ShelfPage::list() {
  const QString was = list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toString() : QString();
  shelf_ = ownShelf().list();
  const QSignalBlocker quiet(list_);
  list_->clear();
  const QVariant only = shown_->currentData();
  for (const store::ShelfItem& i : shelf_.items) {
    if (only.isValid() && only.toInt() != int(i.kind)) continue;
    const QString path = QString::fromStdString(i.file);
    auto* item = new QListWidgetItem(QString::fromStdString(i.name), list_);
    item->setData(Qt::UserRole, QString::fromStdString(i.id));
    item->setData(Qt::UserRole + 1, path);
    item->setToolTip(wordsOf(i));
    if (const QImage icon = thumbnails_.get(path); !icon.isNull()) item->setIcon(QIcon(QPixmap::fromImage(icon)));
    if (item->data(Qt::UserRole).toString() == was) list_->setCurrentItem(item);
  }
  if (!list_->currentItem() && list_->count() > 0) list_->setCurrentRow(0);
  showChosen();
}

const store::ShelfItem* ShelfPage::chosen() const {
  const QListWidgetItem* item = list_->currentItem();
  if (!item) return nullptr;
  const std::string id = item->data(Qt::UserRole).toString().toStdString();
  const auto at = std::find_if(shelf_.items.begin(), shelf_.items.end(), [&](const store::ShelfItem& i) { return i.id == id; });
  return at == shelf_.items.end() ? nullptr : &*at;
}

void ShelfPage::showChosen() {
  const store::ShelfItem* item = chosen();
  QString words = item
                      ? wordsOf(*item)
                      : tr("Nothing is kept yet. Choose a picture's card in the sheet and keep it: it is here in every project.");
  for (const std::string& problem : shelf_.problems) words += QLatin1Char('\n') + QString::fromStdString(problem);
  about_->setText(words);
  bring_->setEnabled(item != nullptr);
  off_->setEnabled(item != nullptr);
}

void ShelfPage::keepActive() {
  const auto* p = activePicture();
  if (!p) return;
  const QString ending = QFileInfo(QString::fromStdString(p->sourceName)).suffix().toLower();
  // What is set together from frames is no file: the file is that of its base alone.
  if (p->frames || p->sourceHash.empty() || ending.isEmpty()) return put({}, {});
  workspace_.askSource(p->sourceHash, [this, ending](const std::vector<std::byte>& bytes) { put(bytes, ending); });
}

// bytes: of the file as it came; none: the picture is written as PNG.
void ShelfPage::put(const std::vector<std::byte>& bytes, const QString& ending) {
  const QString name = name_->text().trimmed().isEmpty() ? activeName() : name_->text().trimmed();
  desk_.jobs.start<store::ShelfItem>(
      tr("Keep %1 on the shelf").arg(name),
      [scene = desk_.session.scene(), layer = desk_.session.active(), kind = store::ShelfKind(kind_->currentData().toInt()), name,
       bytes, ending](base::Executor&, const base::Progress&) -> base::Result<store::ShelfItem> {
        HSEAM_TRY(store::ShelfItem item, tasks::shelfItemOf(scene, layer, kind, name.toStdString()));
        if (!bytes.empty()) return ownShelf().put(bytes, ending.toStdString(), std::move(item));
        HSEAM_TRY(const auto png, pngOf(scene::findLayer(scene, layer)->picture()->source));
        return ownShelf().put(png, "png", std::move(item));
      },
      [this](const store::ShelfItem& item) {
        emit desk_.messages.said(tr("%1 is on the shelf").arg(QString::fromStdString(item.name)));
        list();
        emit changed();
      });
}

void ShelfPage::bringIn() {
  if (const store::ShelfItem* item = chosen()) workspace_.addFromShelf(*item);
}

void ShelfPage::takeOff() {
  const store::ShelfItem* item = chosen();
  if (!item) return;
  if (const auto gone = ownShelf().takeOff(item->id); !gone.ok())
    emit desk_.messages.refused(QString::fromStdString(gone.error().text()));
  list();
  emit changed();
}

}  // namespace hseam::app
