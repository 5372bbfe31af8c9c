#include "app/stations/hand_over/many_files.h"

#include <QComboBox>
#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLabel>
#include <QListWidget>
#include <QProgressBar>
#include <QPushButton>
#include <QThread>
#include <QVBoxLayout>

#include "app/document/workspace.h"
#include "app/widgets/builders.h"
#include "core/batch/journal.h"

namespace hseam::app {
namespace {

constexpr int kLookEveryMs = 500;
constexpr const char* kListName = "list.json";

// What can be done to many: the steps of docs/batch.md.
struct Done {
  const char* name;
  std::vector<QStringList> steps;
};
const std::vector<Done>& whatCanBeDone() {
  static const QString file = QStringLiteral("{file}");
  static const std::vector<Done> all{{QT_TRANSLATE_NOOP("hseam::app::ManyFiles", "cut the subject out (PNG)"),
                                      {{"select", file, "--subject", "--out", "{work}/selection.png"},
                                       {"cut", file, "--selection", "{work}/selection.png", "--cutout", "{out}/{stem}.png"}}},
                                     {QT_TRANSLATE_NOOP("hseam::app::ManyFiles", "the subject's alpha (grey PNG)"),
                                      {{"select", file, "--subject", "--out", "{work}/selection.png"},
                                       {"cut", file, "--selection", "{work}/selection.png", "--alpha", "{out}/{stem}.png"}}},
                                     {QT_TRANSLATE_NOOP("hseam::app::ManyFiles", "projects as JPEG, 2400 px"),
                                      {{"export", file, "--out", "{out}/{stem}.jpg", "--long-side", "2400"}}},
                                     {QT_TRANSLATE_NOOP("hseam::app::ManyFiles", "make projects belong, as JPEG"),
                                      {{"belong", file}, {"export", file, "--out", "{out}/{stem}.jpg"}}}};
  return all;
}

}  // namespace

ManyFiles::ManyFiles(Desk& desk)
    : Page(desk,
           {"many", tr("The same to many files"),
            tr("Cut out or hand over hundreds of files; one that fails stops nobody, and an ended run goes on where it was")}),
      what_(new QComboBox),
      chosen_(quietLabel({})),
      told_(quietLabel({})),
      bar_(new QProgressBar),
      failures_(new QListWidget) {
  auto* c = column();
  for (const Done& d : whatCanBeDone()) what_->addItem(tr(d.name));
  what_->setAccessibleName(tr("What is done to each file"));
  what_->setToolTip(tr("What is done to each file. The list that is written can be edited, and run by hseam batch"));
  what_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  c->addWidget(what_);
  c->addWidget(rowOf({button(tr("Choose files…"), tr("Pictures or projects to do it to"),
                             [this] {
                               take(QFileDialog::getOpenFileNames(
                                   this, tr("Files to do it to"), {},
                                   Workspace::picturesFilter() + QStringLiteral(";;") + tr("Hidden Seam project (*.hseam)")));
                             }),
                      button(tr("A folder…"), tr("All pictures or projects of a folder"), [this] {
                        const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder of the files"));
                        if (!folder.isEmpty()) take({folder});
                      })}));
  c->addWidget(chosen_);
  start_ = button(tr("Do it, into a folder…"), tr("Choose where the results go; the list is written there as well"), [this] {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder for the results"));
    if (!folder.isEmpty()) begin(folder);
  });
  start_->setProperty("main", true);
  stop_ = button(tr("Stop"), tr("Ends it; the same again goes on where it was"), [this] {
    stopped_ = true;
    if (process_) process_->terminate();
  });
  c->addWidget(rowOf({start_, stop_}));
  bar_->setAccessibleName(tr("How far the files are"));
  bar_->setTextVisible(false);
  c->addWidget(bar_);
  c->addWidget(told_);
  failures_->setAccessibleName(tr("Files that failed"));
  failures_->setToolTip(tr("What went wrong with which file; do it again to try them once more"));
  failures_->setWordWrap(true);
  failures_->setFixedHeight(110);
  c->addWidget(failures_);
  timer_.setInterval(kLookEveryMs);
  connect(&timer_, &QTimer::timeout, this, &ManyFiles::look);
  show();
}

// What runs goes on by itself: each finished file is on the disk, and the list can be taken up again.
ManyFiles::~ManyFiles() {
  if (!process_ || process_->state() == QProcess::NotRunning) return;
  process_->disconnect(this);
  process_->terminate();
  process_->waitForFinished(3000);
}

void ManyFiles::take(const QStringList& paths) {
  files_.clear();
  const QStringList endings = Workspace::pictureEndings() + QStringList{QStringLiteral("*.hseam")};
  for (const QString& p : paths) {
    if (!QFileInfo(p).isDir()) {
      files_ << QFileInfo(p).absoluteFilePath();
      continue;
    }
    for (const QFileInfo& f : QDir(p).entryInfoList(endings, QDir::Files, QDir::Name)) files_ << f.absoluteFilePath();
  }
  show();
}

QByteArray ManyFiles::listFor() const {
  QJsonArray files, steps;
  for (const QString& f : files_) files.append(f);
  for (const QStringList& s : whatCanBeDone()[std::size_t(what_->currentIndex())].steps)
    steps.append(QJsonArray::fromStringList(s));
  return QJsonDocument(QJsonObject{{"files", files}, {"out", "."}, {"steps", steps}}).toJson();
}

void ManyFiles::begin(const QString& folder) {
  if (process_) return;
  list_ = QDir(folder).filePath(QLatin1String(kListName));
  if (!files_.isEmpty()) {
    QFile out(list_);
    const QByteArray bytes = listFor();
    if (!out.open(QIODevice::WriteOnly) || out.write(bytes) != bytes.size()) {
      emit desk_.messages.refused(tr("%1 cannot be written: %2").arg(list_, out.errorString()));
      list_.clear();
      return;
    }
  }
  all_ = int(files_.size());
  stopped_ = false;
  process_ = new QProcess(this);
  connect(process_, &QProcess::finished, this, [this](int code) {
    look();
    timer_.stop();
    const QString words = QString::fromUtf8(process_->readAllStandardError()).trimmed();
    process_->deleteLater();
    process_ = nullptr;
    // What failed in the list is shown by file; this is what kept the list itself from being done.
    if (!words.isEmpty() && !stopped_)
      emit desk_.messages.refused(words);
    else if (stopped_)
      emit desk_.messages.said(tr("Stopped after %1 of %2 files; the same again goes on there").arg(ended_).arg(all_));
    else
      emit desk_.messages.said(code == 0 ? tr("All %1 files are done").arg(all_)
                                         : tr("%1 of %2 files are done, %3 failed").arg(ended_ - failed_).arg(all_).arg(failed_));
    show();
  });
  connect(process_, &QProcess::errorOccurred, this, [this](QProcess::ProcessError e) {
    if (e != QProcess::FailedToStart) return;
    emit desk_.messages.refused(tr("hseam cannot be started; install Hidden Seam again"));
    process_->deleteLater();
    process_ = nullptr;
    timer_.stop();
    show();
  });
  process_->start(QCoreApplication::applicationDirPath() + QStringLiteral("/hseam"),
                  {QStringLiteral("batch"), list_, QStringLiteral("--workers"),
                   QString::number(std::max(1, QThread::idealThreadCount())), QStringLiteral("--threads"), QStringLiteral("1")});
  timer_.start();
  look();
}

// The journal tells how far it is, whoever works on the list.
void ManyFiles::look() {
  const auto entries = batch::Journal::look(list_.toStdString());
  ended_ = failed_ = 0;
  failures_->clear();
  // Lists that were worked off here before have left their lines, too.
  QSet<QString> own;
  for (const QString& f : files_) own.insert(QFileInfo(f).fileName());
  for (const auto& [job, entry] : entries) {
    if (!own.contains(QString::fromStdString(job))) continue;
    ++ended_;
    if (entry.ok) continue;
    ++failed_;
    // What it says begins with the file's whole path.
    const std::size_t at = entry.said.find(job + ": ");
    failures_->addItem(QString::fromStdString(at == std::string::npos ? job + ": " + entry.said : entry.said.substr(at)));
  }
  show();
}

void ManyFiles::show() {
  chosen_->setText(files_.isEmpty() ? tr("No files are chosen yet.") : tr("%1 files").arg(files_.size()));
  start_->setEnabled(!files_.isEmpty() && !process_);
  stop_->setEnabled(process_);
  bar_->setVisible(!list_.isEmpty());
  bar_->setRange(0, std::max(1, all_));
  bar_->setValue(ended_);
  told_->setVisible(!list_.isEmpty());
  told_->setText(
      tr("%1 of %2 done%3").arg(ended_ - failed_).arg(all_).arg(failed_ > 0 ? tr(", %1 failed").arg(failed_) : QString()));
  failures_->setVisible(failed_ > 0);
  emit changed();
}

QString ManyFiles::words() const {
  return list_.isEmpty() ? QString() : tr("%1 of %2").arg(ended_).arg(all_);
}

}  // namespace hseam::app
