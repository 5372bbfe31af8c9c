#pragma once

#include <QAbstractListModel>
#include <QFileSystemWatcher>
#include <QTimer>

#include "app/contact/thumbnail_loader.h"
#include "core/image/rating.h"

namespace hseam::app {

/// The pictures of a folder in the order of their names, each with its rating; shown are all, or those of one rating. It follows
/// the folder: what comes and goes, comes and goes here.
class FolderModel : public QAbstractListModel {
  Q_OBJECT

 public:
  enum Role { kPath = Qt::UserRole, kRating, kProblem };
  explicit FolderModel(QObject* parent = nullptr);
  void open(const QString& folder);
  const QString& folder() const { return folder_; }
  /// Nothing: all.
  void showOnly(std::optional<image::Rating> rating);
  int rowCount(const QModelIndex& parent = {}) const override;
  QVariant data(const QModelIndex& index, int role) const override;
  /// The error's sentence, empty if it is written.
  QString rate(const QModelIndex& index, image::Rating rating);
  QString path(int row) const { return files_[std::size_t(shown_[std::size_t(row)])].path; }
  int rowOf(const QString& path) const;
  /// Of the whole folder.
  int count() const { return int(files_.size()); }
  int count(image::Rating rating) const;
  int waiting() const { return loader_.waiting(); }
  static QString words(image::Rating rating);

 signals:
  void counted();  // files or ratings have changed

 private:
  struct File {
    QString path, name;
    image::Rating rating = image::Rating::none;
  };
  void list();
  void choose();
  QString folder_;
  std::vector<File> files_;
  std::vector<int> shown_;  // of files_
  QHash<QString, int> rows_;
  std::optional<image::Rating> only_;
  mutable ThumbnailLoader loader_;
  QFileSystemWatcher watcher_;
  QTimer later_;
};

}  // namespace hseam::app
