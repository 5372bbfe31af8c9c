#include "app/stations/gather/look_through.h"

#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QStorageInfo>
#include <QVBoxLayout>

#include "app/contact/contact_sheet.h"
#include "app/contact/picture_panes.h"
#include "app/widgets/builders.h"
#include "core/store/verified_copy.h"

namespace hseam::app {
namespace {

using image::Rating;

// "on CARD, 12 GB free" for another medium than the system's own.
QString mediumWords(const QString& folder) {
  const QStorageInfo medium(folder);
  if (!medium.isValid() || medium.isRoot()) return {};
  return QObject::tr("On %1, %2 free").arg(medium.displayName(), QLocale().formattedDataSize(medium.bytesAvailable()));
}

}  // namespace

LookThrough::LookThrough(Desk& desk, Workspace& workspace, FrameWork& frames)
    : Page(desk, {"look-through", tr("Look through a folder"),
                  tr("Thousands of shots as small pictures; keep, perhaps, or out by key")}),
      workspace_(workspace),
      frames_(frames),
      sheet_(new ContactSheet(this)),
      only_(new QComboBox),
      where_(quietLabel({})),
      told_(quietLabel({})) {
  sheet_->hide();
  sheet_->setAccessibleDescription(tr("looks through a folder"));
  auto* c = column();
  c->addWidget(button(tr("Choose a folder…"), tr("All pictures in it are shown in the middle; none of them is changed"), [this] {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("A folder of pictures"),
                                                             QSettings().value(QStringLiteral("lookThrough")).toString());
    if (!folder.isEmpty()) open(folder);
  }));
  shoot_ = button({}, tr("Stands in for a camera that sends its shots while you work: the demo's photographs come one by one"),
                  [this] { turnCamera(); });
  c->addWidget(shoot_);
  connect(&camera_, &DemoCamera::ended, this, &LookThrough::tell);
  connect(&camera_, &DemoCamera::refused, this, [this](const QString& why) {
    emit desk_.messages.refused(why);
    tell();
  });
  c->addWidget(where_);
  only_->addItem(tr("all"), -1);
  for (const Rating r : {Rating::keep, Rating::perhaps, Rating::out, Rating::none}) only_->addItem(FolderModel::words(r), int(r));
  only_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  only_->setAccessibleName(tr("Which pictures are shown"));
  only_->setToolTip(tr("Shows all pictures of the folder, or those of which this was said"));
  c->addWidget(namedRow(tr("show"), only_));
  const struct {
    Rating rating;
    QString name, tip;
  } kinds[] = {{Rating::keep, tr("Keep"), tr("What is chosen is kept (+)")},
               {Rating::perhaps, tr("Perhaps"), tr("What is chosen is kept in mind (.)")},
               {Rating::out, tr("Out"), tr("What is chosen is out; no file is deleted (−)")}};
  QList<QWidget*> row;
  for (const auto& k : kinds) {
    ratings_.push_back(button(k.name, k.tip, [this, r = k.rating] { sheet_->rate(r); }));
    row << ratings_.back();
  }
  c->addWidget(rowOf(row));
  c->addWidget(told_);
  look_ = button(tr("Look at it large"), tr("One to four chosen pictures beside one another (Return); Escape leads back"),
                 [this] { sheet_->looksAtLarge() ? sheet_->back() : sheet_->look(); });
  add_ = button(tr("Add to the scene"), tr("The chosen pictures become layers"), [this] {
    workspace_.openFiles(sheet_->chosen());
    emit led(QStringLiteral("about"));
  });
  add_->setProperty("main", true);
  asFrames_ = button(tr("As frames of the active picture"),
                     tr("The chosen pictures are of the same place: they become its frames"), [this] {
                       frames_.add(sheet_->chosen());
                       emit led(QStringLiteral("frames"));
                     });
  copy_ = button(tr("Copy to a folder…"),
                 tr("The chosen pictures with what was said of them; each copy is read back and compared"), [this] {
                   const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder for the copies"));
                   if (!folder.isEmpty()) copyTo(folder);
                 });
  for (QWidget* w : {look_, add_, asFrames_, copy_}) c->addWidget(w);
  connect(only_, &QComboBox::currentIndexChanged, this, [this] {
    const int which = only_->currentData().toInt();
    sheet_->model().showOnly(which < 0 ? std::nullopt : std::optional(Rating(which)));
    tell();
  });
  connect(sheet_, &ContactSheet::changed, this, [this] {
    tell();
    emit changed();
  });
  connect(sheet_, &ContactSheet::refused, &desk_.messages, &Messages::refused);
  tell();
}

void LookThrough::open(const QString& folder) {
  QSettings().setValue(QStringLiteral("lookThrough"), folder);
  sheet_->back();
  sheet_->model().open(folder);
  tell();
  emit changed();
}

QWidget* LookThrough::middle() {
  return sheet_->model().folder().isEmpty() ? nullptr : sheet_;
}

void LookThrough::turnCamera() {
  if (camera_.shoots()) {
    camera_.end();
    tell();
    return;
  }
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/demo camera");
  camera_.begin(folder);
  open(folder);
}

void LookThrough::refresh() {
  tell();
}

void LookThrough::tell() {
  shoot_->setText(camera_.shoots() ? tr("Stop the demo camera") : tr("Demo camera"));
  const FolderModel& m = sheet_->model();
  const bool any = m.count() > 0;
  const int chosen = int(sheet_->list().selectionModel()->selectedIndexes().size());
  QStringList where{QDir(m.folder()).dirName()};
  where_->setToolTip(QDir::toNativeSeparators(m.folder()));
  if (const QString medium = mediumWords(m.folder()); !m.folder().isEmpty() && !medium.isEmpty()) where << medium;
  where_->setText(where.join(QLatin1Char('\n')));
  where_->setVisible(!m.folder().isEmpty());
  told_->setText(m.folder().isEmpty() ? QString()
                                      : tr("%1 pictures: %2 kept, %3 perhaps, %4 out. %5 chosen.")
                                            .arg(m.count())
                                            .arg(m.count(Rating::keep))
                                            .arg(m.count(Rating::perhaps))
                                            .arg(m.count(Rating::out))
                                            .arg(chosen));
  told_->setVisible(!m.folder().isEmpty());
  const bool large = sheet_->looksAtLarge();
  look_->setText(large ? tr("Back to the small pictures") : tr("Look at it large"));
  look_->setEnabled(large || chosen > 0);
  for (QPushButton* b : ratings_) b->setEnabled(chosen > 0 || large);
  add_->setEnabled(chosen > 0);
  copy_->setEnabled(any);
  asFrames_->setEnabled(chosen > 0 && activePicture());
}

QString LookThrough::words() const {
  const FolderModel& m = sheet_->model();
  return m.folder().isEmpty() ? QString() : tr("%1 kept of %2").arg(m.count(Rating::keep)).arg(m.count());
}

void LookThrough::copyTo(const QString& folder) {
  QStringList files = sheet_->chosen();
  for (const QString& f : sheet_->chosen()) {
    const QString sidecar = QString::fromStdString(image::sidecarOf(f.toStdString()));
    if (QFileInfo::exists(sidecar)) files << sidecar;
  }
  struct Copied {
    int files = 0;
    QStringList problems;
  };
  desk_.jobs.start<Copied>(
      {tr("Copy and compare"), QStringLiteral("copy")},
      [files, folder](base::Executor&, const base::Progress& progress) -> base::Result<Copied> {
        Copied done;
        for (qsizetype i = 0; i < files.size(); ++i) {
          if (progress.cancelled()) return base::cancelledError();
          progress.report(double(i) / double(files.size()));
          const auto copied = store::copyVerified(files[i].toStdString(), folder.toStdString());
          if (copied.ok())
            ++done.files;
          else
            done.problems << QString::fromStdString(copied.error().text());
        }
        return done;
      },
      [this, folder](const Copied& done) {
        if (done.problems.isEmpty())
          emit desk_.messages.said(tr("%1 files are copied to %2, each compared with its original").arg(done.files).arg(folder));
        else
          emit desk_.messages.refused(tr("%1 files are copied; %2 could not be: %3")
                                          .arg(done.files)
                                          .arg(done.problems.size())
                                          .arg(done.problems.first()));
      });
}

}  // namespace hseam::app
