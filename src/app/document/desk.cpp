#include "app/document/desk.h"

#include <unistd.h>

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include "core/base/stamp.h"
#include "core/scene/stale.h"

namespace hseam::app {
namespace {

constexpr int kRecents = 8;
const char kRecentsKey[] = "recents";

std::size_t memoryBudget() {
  const auto pages = std::size_t(sysconf(_SC_PHYS_PAGES)), page = std::size_t(sysconf(_SC_PAGE_SIZE));
  return std::clamp<std::size_t>(pages * page / 3, std::size_t(1) << 30, std::size_t(16) << 30);
}

QString untitledPath() {
  return Desk::recoveryFolder() +
         QStringLiteral("/untitled-%1-%2.hseam").arg(QCoreApplication::applicationPid()).arg(base::nextStamp());
}

}  // namespace

Desk::Desk(QObject* parent) : QObject(parent), memory_(image::TileMemory::create(memoryBudget())) {
  connect(&jobs_, &Jobs::failed, this, &Desk::refused);
  newScene({3000, 2000});
}

Desk::~Desk() {
  // An untitled scene without any step holds no work.
  const QString path = document_->path();
  const bool drop = isUntitled() && document_->history().count() == 1;
  document_.reset();
  if (drop) store::removeProject(path.toStdString());
}

QString Desk::recoveryFolder() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/untitled");
  QDir().mkpath(folder);
  return folder;
}

bool Desk::applyResult(const scene::Edit& edit, const scene::Scene& from) {
  const auto changed = scene::changedMeanwhile(from, scene(), edit);
  if (!changed) return apply(edit);
  emit refused(
      changed->empty()
          ? tr("The scene was changed while this was worked out: what you did stays, and the outcome is dropped. Do it again.")
          : tr("%1 was changed while this was worked out: what you did stays, and the outcome is dropped. Do it again.")
                .arg(QString::fromStdString(*changed)));
  return false;
}

void Desk::newScene(base::Size canvas) {
  if (document_ && !mayLeave()) return;
  scene::Scene s;
  s.canvas = canvas;
  const QString path = untitledPath();
  auto made = store::ProjectFile::create(path.toStdString(), s, "new scene", memory_, jobs_.executor());
  if (!made.ok()) {
    emit refused(QString::fromStdString(made.error().text()));
    CORE_CHECK(document_ != nullptr);  // without any place to keep work there is nothing to go on with
    return;
  }
  take(std::move(made).value());
}

void Desk::take(store::ProjectFile::Opened opened, const QString& onlyLooking) {
  // What is still worked out belongs to the scene that goes.
  jobs_.abandon();
  aside_.forget({});
  auto old = std::move(document_);
  document_ = std::make_unique<Document>(std::move(opened), onlyLooking);
  connect(document_.get(), &Document::sceneChanged, this, &Desk::sceneChanged);
  connect(document_.get(), &Document::historyChanged, this, &Desk::historyChanged);
  connect(document_.get(), &Document::activeChanged, this, &Desk::activeChanged);
  connect(document_.get(), &Document::keptChanged, this, &Desk::keptChanged);
  connect(document_.get(), &Document::pathChanged, this, &Desk::pathChanged);
  connect(document_.get(), &Document::refused, this, &Desk::refused);
  emit documentChanged();
  emit sceneChanged();
  emit historyChanged();
  emit activeChanged();
  if (!old) return;
  const QString path = old->path();
  const bool empty = old->history().count() == 1 && path.startsWith(recoveryFolder());
  old.reset();
  if (empty) store::removeProject(path.toStdString());
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

void Desk::openProject(const QString& path, const std::function<void()>& then) {
  if (!mayLeave()) return;
  if (document_ && !document_->onlyLooking() && QFileInfo(path) == QFileInfo(document_->path())) {
    emit said(tr("%1 is open here already").arg(title()));
    if (then) then();
    return;
  }
  const auto memory = memory_;
  const QString copy = untitledPath();
  // Found holds a file that only moves: a shared slot carries it across threads.
  using Slot = std::shared_ptr<Found>;
  jobs_.start<Slot>(
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
          emit refused(tr("%1 can only be read where it lies. This is an untitled copy: name it and it is kept where you say.")
                           .arg(QFileInfo(path).fileName()));
          if (then) then();
          return;
        }
        remember(path);
        if (!looking.isEmpty()) emit refused(looking);
        if (!missing.empty())
          emit refused(missing.size() == 1
                           ? tr("Step %1 of this project was never written; all others are there.").arg(missing.front())
                           : tr("%1 steps of this project were never written (the first is step %2); all others are there.")
                                 .arg(missing.size())
                                 .arg(missing.front()));
        if (looking.isEmpty())
          emit said(unclean ? tr("Opened as it was when the program ended unexpectedly: every step is there")
                            : tr("Opened %1").arg(title()));
        if (then) then();
      });
}

void Desk::saveAs(const QString& path) {
  if (QFileInfo(path) == QFileInfo(document_->path())) {
    emit refused(tr("This project has that name already, and every step is kept in it."));
    return;
  }
  if (document_->onlyLooking()) {
    saveCopyAndGoOn(path);
    return;
  }
  const auto old = isUntitled() ? store::ProjectFile::Old::goes : store::ProjectFile::Old::stays;
  document_->moveTo(path, old, [this, path](const base::Status& done) {
    if (!done.ok()) {
      emit refused(QString::fromStdString(done.error().text()));
      return;
    }
    remember(path);
    emit said(tr("Named %1").arg(title()));
  });
}

// What is only looked at goes on in a copy.
void Desk::saveCopyAndGoOn(const QString& path) {
  document_->post([path](store::ProjectFile& file) { return file.copyTo(path.toStdString()); },
                  [this, path](const base::Status& done) {
                    if (done.ok()) {
                      openProject(path);
                    } else {
                      emit refused(QString::fromStdString(done.error().text()));
                    }
                  });
}

bool Desk::isUntitled() const {
  return document_->path().startsWith(recoveryFolder());
}
QString Desk::title() const {
  return isUntitled() ? tr("untitled") : QFileInfo(document_->path()).completeBaseName();
}

void Desk::remember(const QString& path) {
  if (path.startsWith(recoveryFolder())) return;
  QStringList list = recents();
  list.removeAll(path);
  list.prepend(path);
  QSettings().setValue(QLatin1String(kRecentsKey), list.mid(0, kRecents));
}

QStringList Desk::recents() const {
  QStringList there;
  for (const QString& p : QSettings().value(QLatin1String(kRecentsKey)).toStringList()) {
    if (QFileInfo::exists(p)) there.push_back(p);
  }
  return there;
}

QStringList Desk::leftBehind() const {
  QStringList found;
  const QDir folder(recoveryFolder());
  for (const QFileInfo& f : folder.entryInfoList({QStringLiteral("untitled-*.hseam")}, QDir::Files, QDir::Time)) {
    if (!store::ProjectLock::isHeld(f.absoluteFilePath().toStdString())) found.push_back(f.absoluteFilePath());
  }
  return found;
}

void Desk::discardLeftBehind(const QString& path) {
  store::removeProject(path.toStdString());
}

}  // namespace hseam::app
