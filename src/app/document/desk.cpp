#include "app/document/desk.h"

#include <unistd.h>

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <csignal>

#include "core/base/stamp.h"
namespace hseam::app {
namespace {

constexpr int kRecents = 8;
const char kRecentsKey[] = "recents";

std::size_t memoryBudget() {
  const auto pages = std::size_t(sysconf(_SC_PHYS_PAGES)), page = std::size_t(sysconf(_SC_PAGE_SIZE));
  return std::clamp<std::size_t>(pages * page / 3, std::size_t(1) << 30, std::size_t(16) << 30);
}

// The process number is part of an untitled project's name: a file whose process is gone was left behind.
bool ownerLives(const QString& name) {
  const int pid = name.section(QLatin1Char('-'), 1, 1).toInt();
  return pid > 0 && kill(pid, 0) == 0;
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
  if (drop) QFile::remove(path);
}

QString Desk::recoveryFolder() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/untitled");
  QDir().mkpath(folder);
  return folder;
}

void Desk::newScene(base::Size canvas) {
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

void Desk::take(store::ProjectFile::Opened opened) {
  // What is still worked out belongs to the scene that goes.
  jobs_.abandon();
  aside_.forget({});
  auto old = std::move(document_);
  document_ = std::make_unique<Document>(std::move(opened));
  connect(document_.get(), &Document::sceneChanged, this, &Desk::sceneChanged);
  connect(document_.get(), &Document::historyChanged, this, &Desk::historyChanged);
  connect(document_.get(), &Document::activeChanged, this, &Desk::activeChanged);
  connect(document_.get(), &Document::keptChanged, this, &Desk::keptChanged);
  connect(document_.get(), &Document::refused, this, &Desk::refused);
  emit documentChanged();
  emit sceneChanged();
  emit historyChanged();
  emit activeChanged();
  if (!old) return;
  const QString path = old->path();
  const bool empty = old->history().count() == 1 && path.startsWith(recoveryFolder());
  old.reset();
  if (empty) QFile::remove(path);
}

void Desk::openProject(const QString& path) {
  const auto memory = memory_;
  const QString copy = untitledPath();
  // Opened holds a file that only moves: a shared slot carries it across threads.
  using Slot = std::shared_ptr<store::ProjectFile::Opened>;
  jobs_.start<Slot>(
      tr("Open %1").arg(QFileInfo(path).fileName()),
      [path, copy, memory](base::Executor& executor, const base::Progress&) -> base::Result<Slot> {
        auto opened = store::ProjectFile::open(path.toStdString(), memory, executor);
        // Where nothing can be written, the work goes on in a copy.
        if (!opened.ok() && opened.error().code == base::Code::unwritable) {
          HSEAM_TRY(const auto look, store::ProjectFile::openToRead(path.toStdString(), memory, executor));
          HSEAM_DO(look.file->copyTo(copy.toStdString()));
          opened = store::ProjectFile::open(copy.toStdString(), memory, executor);
        }
        if (!opened.ok()) return opened.error();
        return std::make_shared<store::ProjectFile::Opened>(std::move(opened).value());
      },
      [this, path, copy](Slot opened) {
        const bool unclean = opened->wasUnclean;
        if (opened->file->path() == copy.toStdString()) {
          take(std::move(*opened));
          emit refused(tr("%1 can only be read where it lies. This is an untitled copy: name it and it is kept where you say.")
                           .arg(QFileInfo(path).fileName()));
          return;
        }
        take(std::move(*opened));
        remember(path);
        emit said(unclean ? tr("Opened as it was when the program ended unexpectedly: every step is there")
                          : tr("Opened %1").arg(title()));
      });
}

void Desk::saveAs(const QString& path) {
  const QString old = document_->path();
  const bool untitled = isUntitled();
  document_->post([this, path, old, untitled](store::ProjectFile& file) {
    const base::Status copied = file.copyTo(path.toStdString());
    if (copied.ok())
      QMetaObject::invokeMethod(
          this, [this, path, old, untitled] { goOnWith(path, untitled ? old : QString()); }, Qt::QueuedConnection);
    return copied;
  });
}

// `superseded`: the untitled file that the new one replaces; empty if there is none.
void Desk::goOnWith(const QString& path, const QString& superseded) {
  const auto once = std::make_shared<QMetaObject::Connection>();
  *once = connect(this, &Desk::documentChanged, this, [superseded, once] {
    if (!superseded.isEmpty()) QFile::remove(superseded);
    disconnect(*once);
  });
  openProject(path);
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
    if (!ownerLives(f.fileName()) && f.absoluteFilePath() != document_->path()) found.push_back(f.absoluteFilePath());
  }
  return found;
}

void Desk::discardLeftBehind(const QString& path) {
  for (const char* ending : {"", "-wal", "-shm"}) QFile::remove(path + QLatin1String(ending));
}

}  // namespace hseam::app
