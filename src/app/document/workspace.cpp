#include "app/document/workspace.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include "core/base/stamp.h"

namespace hseam::app {
namespace {

constexpr int kRecents = 8;
const char kRecentsKey[] = "recents";

QString untitledPath() {
  return Workspace::recoveryFolder() +
         QStringLiteral("/untitled-%1-%2.hseam").arg(QCoreApplication::applicationPid()).arg(base::nextStamp());
}

}  // namespace

Workspace::Workspace(Desk& desk, QObject* parent) : QObject(parent), desk_(desk) {
  newScene({3000, 2000});
}

Workspace::~Workspace() {
  // An untitled scene without any step holds no work.
  const QString path = document_->path();
  const bool drop = isUntitled() && desk_.session.history().count() == 1;
  document_.reset();
  if (drop) store::removeProject(path.toStdString());
}

QString Workspace::recoveryFolder() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/untitled");
  QDir().mkpath(folder);
  return folder;
}

void Workspace::newScene(base::Size canvas) {
  if (document_ && !mayLeave()) return;
  scene::Scene s;
  s.canvas = canvas;
  const QString path = untitledPath();
  auto made = store::ProjectFile::create(path.toStdString(), s, "new scene", desk_.session.memory(), desk_.jobs.executor());
  if (!made.ok()) {
    refused(QString::fromStdString(made.error().text()));
    CORE_CHECK(document_ != nullptr);  // without any place to keep work there is nothing to go on with
    return;
  }
  take(std::move(made).value());
}

void Workspace::take(store::ProjectFile::Opened opened, const QString& onlyLooking) {
  // What is still worked out belongs to the scene that goes.
  desk_.jobs.stopAll();
  desk_.aside.stopAll();
  desk_.background.stopAll();
  const bool empty = document_ && isUntitled() && desk_.session.history().count() == 1;
  auto old = std::exchange(document_, std::make_unique<Document>(std::move(opened.file)));
  Document* document = document_.get();
  connect(document, &Document::keptChanged, this, &Workspace::keptChanged);
  connect(document, &Document::pathChanged, this, [this] {
    desk_.session.setTitle(title());
    emit pathChanged();
  });
  connect(document, &Document::refused, &desk_.messages, &Messages::refused);
  desk_.session.setTitle(title());
  desk_.session.take(std::move(opened.history),
                     {[document](const scene::Step& step, int after) { document->keepStep(step, after); },
                      [document](int step) { document->keepCurrent(step); }},
                     onlyLooking);
  emit pathChanged();
  if (!empty) return;
  const QString path = old->path();
  old.reset();
  store::removeProject(path.toStdString());
}

namespace {

// How a project was opened.
struct Found {
  store::ProjectFile::Opened opened;
  QString looking;    // why it is only looked at; empty: it can be changed
  bool copy = false;  // it lies where nothing can be written: this is an untitled copy
};

base::Result<Found> find(const QString& path, const QString& copy, const std::shared_ptr<image::TileMemory>& memory,
                         base::Executor& executor) {
  auto opened = store::ProjectFile::open(path.toStdString(), memory, executor);
  if (opened.ok()) return Found{std::move(opened).value(), {}, false};
  const base::Error why = opened.error();
  using base::Code;
  if (why.code != Code::unwritable && why.code != Code::conflict && why.code != Code::unsupported) return why;
  auto look = store::ProjectFile::openToRead(path.toStdString(), memory, executor);
  if (!look.ok()) return why.code == Code::unwritable ? look.error() : why;
  if (why.code != Code::unwritable) return Found{std::move(look).value(), QString::fromStdString(why.detail), false};
  HSEAM_DO(look->file->copyTo(copy.toStdString()));
  HSEAM_TRY(store::ProjectFile::Opened untitled, store::ProjectFile::open(copy.toStdString(), memory, executor));
  return Found{std::move(untitled), {}, true};
}

}  // namespace

void Workspace::openProject(const QString& path, const std::function<void()>& then) {
  if (!mayLeave()) return;
  if (document_ && !desk_.session.onlyLooking() && QFileInfo(path) == QFileInfo(document_->path())) {
    said(tr("%1 is open here already").arg(title()));
    if (then) then();
    return;
  }
  const auto memory = desk_.session.memory();
  const QString copy = untitledPath();
  // Found holds a file that only moves: a shared slot carries it across threads.
  using Slot = std::shared_ptr<Found>;
  desk_.jobs.start<Slot>(
      tr("Open %1").arg(QFileInfo(path).fileName()),
      [path, copy, memory](base::Executor& executor, const base::Progress&) -> base::Result<Slot> {
        HSEAM_TRY(Found found, find(path, copy, memory, executor));
        return std::make_shared<Found>(std::move(found));
      },
      [this, path, then](Slot found) {
        if (!mayLeave()) return;  // what was done while it was read may wait for the disk
        const bool unclean = found->opened.wasUnclean;
        const std::vector<int> missing = found->opened.missingSteps;
        const QString looking = found->looking.isEmpty()
                                    ? QString()
                                    : tr("%1 is shown for looking: it %2. Name it (Ctrl+S) to go on with a copy of your own.")
                                          .arg(QFileInfo(path).fileName(), found->looking);
        take(std::move(found->opened), looking);
        if (found->copy) {
          refused(tr("%1 can only be read where it lies. This is an untitled copy: name it and it is kept where you say.")
                      .arg(QFileInfo(path).fileName()));
          if (then) then();
          return;
        }
        remember(path);
        if (!looking.isEmpty()) refused(looking);
        if (!missing.empty())
          refused(missing.size() == 1
                      ? tr("Step %1 of this project was never written; all others are there.").arg(missing.front())
                      : tr("%1 steps of this project were never written (the first is step %2); all others are there.")
                            .arg(missing.size())
                            .arg(missing.front()));
        if (looking.isEmpty())
          said(unclean ? tr("Opened as it was when the program ended unexpectedly: every step is there")
                       : tr("Opened %1").arg(title()));
        if (then) then();
      });
}

void Workspace::saveAs(const QString& path) {
  if (QFileInfo(path) == QFileInfo(document_->path())) {
    refused(tr("This project has that name already, and every step is kept in it."));
    return;
  }
  if (desk_.session.onlyLooking()) {
    saveCopyAndGoOn(path);
    return;
  }
  const auto old = isUntitled() ? store::ProjectFile::Old::goes : store::ProjectFile::Old::stays;
  document_->moveTo(path, old, [this, path](const base::Status& done) {
    if (!done.ok()) {
      refused(QString::fromStdString(done.error().text()));
      return;
    }
    remember(path);
    said(tr("Named %1").arg(title()));
  });
}

// What is only looked at goes on in a copy.
void Workspace::saveCopyAndGoOn(const QString& path) {
  document_->post([path](store::ProjectFile& file) { return file.copyTo(path.toStdString()); },
                  [this, path](const base::Status& done) {
                    if (done.ok()) {
                      openProject(path);
                    } else {
                      refused(QString::fromStdString(done.error().text()));
                    }
                  });
}

bool Workspace::isUntitled() const {
  return document_->path().startsWith(recoveryFolder());
}
QString Workspace::title() const {
  return isUntitled() ? tr("untitled") : QFileInfo(document_->path()).completeBaseName();
}

void Workspace::remember(const QString& path) {
  if (path.startsWith(recoveryFolder())) return;
  QStringList list = recents();
  list.removeAll(path);
  list.prepend(path);
  QSettings().setValue(QLatin1String(kRecentsKey), list.mid(0, kRecents));
}

QStringList Workspace::recents() const {
  QStringList there;
  for (const QString& p : QSettings().value(QLatin1String(kRecentsKey)).toStringList()) {
    if (QFileInfo::exists(p)) there.push_back(p);
  }
  return there;
}

QStringList Workspace::leftBehind() const {
  QStringList found;
  const QDir folder(recoveryFolder());
  for (const QFileInfo& f : folder.entryInfoList({QStringLiteral("untitled-*.hseam")}, QDir::Files, QDir::Time)) {
    if (!store::ProjectLock::isHeld(f.absoluteFilePath().toStdString())) found.push_back(f.absoluteFilePath());
  }
  return found;
}

void Workspace::discardLeftBehind(const QString& path) {
  store::removeProject(path.toStdString());
}

}  // namespace hseam::app
