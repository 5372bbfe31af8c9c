#include "app/contact/folder_model.h"

#include <QDir>
#include <QFileInfo>

#include "app/document/workspace.h"

namespace hseam::app {
namespace {

constexpr int kListAfterMs = 300;  // a folder that is being filled changes often

}  // namespace

FolderModel::FolderModel(QObject* parent) : QAbstractListModel(parent) {
  later_.setSingleShot(true);
  later_.setInterval(kListAfterMs);
  connect(&later_, &QTimer::timeout, this, &FolderModel::list);
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, &later_, qOverload<>(&QTimer::start));
  connect(&loader_, &ThumbnailLoader::ready, this, [this](const QString& path) {
    const int row = rowOf(path);
    if (row >= 0) emit dataChanged(index(row), index(row), {Qt::DecorationRole, kProblem});
  });
}

void FolderModel::open(const QString& folder) {
  if (!folder_.isEmpty()) watcher_.removePath(folder_);
  loader_.forgetWaiting();
  beginResetModel();
  files_.clear();
  shown_.clear();
  rows_.clear();
  endResetModel();
  folder_ = folder;
  if (!folder_.isEmpty()) watcher_.addPath(folder_);
  list();
}

void FolderModel::list() {
  const QDir dir(folder_);
  const QFileInfoList found = dir.entryInfoList(Workspace::pictureEndings(), QDir::Files, QDir::Name | QDir::IgnoreCase);
  const QStringList beside = dir.entryList({QStringLiteral("*.xmp")}, QDir::Files);
  const QSet<QString> sidecars(beside.begin(), beside.end());
  std::vector<File> files;
  files.reserve(std::size_t(found.size()));
  for (const QFileInfo& f : found) {
    File file{f.absoluteFilePath(), f.fileName()};
    if (sidecars.contains(file.name + QStringLiteral(".xmp")) || sidecars.contains(f.completeBaseName() + QStringLiteral(".xmp")))
      file.rating = image::ratingOf(file.path.toStdString());
    files.push_back(std::move(file));
  }
  const bool same = files.size() == files_.size() &&
                    std::equal(files.begin(), files.end(), files_.begin(),
                               [](const File& a, const File& b) { return a.path == b.path && a.rating == b.rating; });
  if (same) return;
  files_ = std::move(files);
  choose();
  emit counted();
}

void FolderModel::showOnly(std::optional<image::Rating> rating) {
  only_ = rating;
  choose();
}

void FolderModel::choose() {
  beginResetModel();
  shown_.clear();
  rows_.clear();
  for (std::size_t i = 0; i < files_.size(); ++i) {
    if (only_ && files_[i].rating != *only_) continue;
    rows_.insert(files_[i].path, int(shown_.size()));
    shown_.push_back(int(i));
  }
  endResetModel();
}

int FolderModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : int(shown_.size());
}

int FolderModel::rowOf(const QString& path) const {
  return rows_.value(path, -1);
}

int FolderModel::count(image::Rating rating) const {
  return int(std::count_if(files_.begin(), files_.end(), [&](const File& f) { return f.rating == rating; }));
}

QVariant FolderModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const File& f = files_[std::size_t(shown_[std::size_t(index.row())])];
  switch (role) {
    case Qt::DisplayRole:
      return f.name;
    case Qt::ToolTipRole: {
      const QString problem = loader_.problem(f.path);
      return problem.isEmpty() ? f.path : f.path + QLatin1Char('\n') + problem;
    }
    case Qt::AccessibleTextRole:
      return f.name + QStringLiteral(", ") + words(f.rating);
    case Qt::DecorationRole:
      return loader_.get(f.path);
    case kPath:
      return f.path;
    case kRating:
      return int(f.rating);
    case kProblem:
      return loader_.problem(f.path);
    default:
      return {};
  }
}

QString FolderModel::rate(const QModelIndex& index, image::Rating rating) {
  File& f = files_[std::size_t(shown_[std::size_t(index.row())])];
  if (f.rating == rating) return {};
  if (const auto written = image::setRating(f.path.toStdString(), rating); !written.ok())
    return QString::fromStdString(written.error().text());
  f.rating = rating;
  emit dataChanged(index, index, {kRating, Qt::AccessibleTextRole});
  emit counted();
  return {};
}

QString FolderModel::words(image::Rating rating) {
  switch (rating) {
    case image::Rating::keep:
      return tr("keep");
    case image::Rating::perhaps:
      return tr("perhaps");
    case image::Rating::out:
      return tr("out");
    default:
      return tr("not looked at");
  }
}

}  // namespace hseam::app
