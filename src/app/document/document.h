#pragma once
// The project's file as the window sees it: what is kept, what waits, and work on the file. UI thread only.

#include <QDateTime>
#include <QObject>
#include <QString>

#include "app/document/keeper.h"
#include "core/scene/history.h"

namespace hseam::app {

class Document : public QObject {
  Q_OBJECT

 public:
  explicit Document(std::unique_ptr<store::ProjectFile> file, QObject* parent = nullptr);

  QString path() const { return path_; }
  QDateTime keptAt() const { return keptAt_; }
  bool allKept() const { return keeper_.waiting().steps == 0; }
  /// Steps that are not on the disk yet, and why if the disk refused one.
  Keeper::Waiting waiting() const { return keeper_.waiting(); }
  void tryAgain() { keeper_.tryAgain(); }
  void giveUp() { keeper_.giveUp(); }

  /// A step of the session, and the step that it went to.
  void keepStep(const scene::Step& step, int after);
  void keepCurrent(int step);
  /// What belongs to a step that follows (a source file): it must get into the file, before it.
  void keep(Keeper::Work work) { keeper_.keep(std::move(work)); }
  /// Work on the file, once, at its turn.
  void post(Keeper::Work work, Keeper::Told told) { keeper_.post(std::move(work), std::move(told)); }
  /// A copy of everything, the steps that wait included.
  void copy(const QString& path, Keeper::Told told) { keeper_.copyAll(path, std::move(told)); }
  /// The project moves to `path`, with all that comes after: history, selections and views stay. `told` once it has.
  void moveTo(const QString& path, store::ProjectFile::Old old, Keeper::Told told);
  /// Waits until everything is on the disk, or is known to fail. True: everything is.
  bool flush() { return keeper_.flush(); }

 signals:
  void keptChanged();
  void pathChanged();
  void refused(const QString& sentence);

 private:
  void readWaiting();

  QString path_;
  QDateTime keptAt_;
  bool failureTold_ = false;
  Keeper keeper_;
};

}  // namespace hseam::app
