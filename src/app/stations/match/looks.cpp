#include "app/stations/match/looks.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QLineEdit>
#include <QPushButton>
#include <QSaveFile>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/scene/look.h"

namespace hseam::app {
namespace {

constexpr auto kEnding = ".look.json";
constexpr qint64 kMostBytes = 64 << 20;  // a colour table may be in it

}  // namespace

QString Looks::folder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/looks");
}

QString Looks::fileOf(const QString& name) const {
  // A name is free; a file's is not.
  return folder() + QLatin1Char('/') + QString::fromLatin1(name.toUtf8().toHex()) + QLatin1String(kEnding);
}

Looks::Looks(Desk& desk)
    : Page(desk, {"looks", tr("Looks"), tr("Stacks of adjustments under a name, for every project")}),
      name_(new QLineEdit),
      list_(new QComboBox),
      confined_(new QCheckBox(tr("confine it to the active layer"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  name_->setPlaceholderText(tr("name of the look"));
  name_->setMaxLength(80);
  name_->setAccessibleName(tr("Name of the look"));
  name_->setToolTip(tr("Under which the active layer's adjustments are kept"));
  keep_ =
      button(tr("Keep"), tr("The adjustments confined to the active layer, or the active adjustment, are kept for every project"),
             [this] { keep(); });
  connect(name_, &QLineEdit::returnPressed, this, [this] { keep(); });
  connect(name_, &QLineEdit::textChanged, this, [this] { refresh(); });
  column->addWidget(rowOf({name_, keep_}));
  list_->setAccessibleName(tr("Kept look"));
  list_->setToolTip(tr("The looks kept so far"));
  column->addWidget(list_);
  confined_->setChecked(true);
  confined_->setToolTip(tr("It acts on the active layer alone; else on everything below"));
  column->addWidget(confined_);
  use_ = button(tr("Use it"), tr("Its adjustments come in over the active layer, as layers of their own"), [this] { use(); });
  forget_ = button(tr("Forget it"), tr("The kept look goes; where it was used it stays"), [this] { forget(); });
  column->addWidget(rowOf({use_, forget_}));
}

void Looks::keep() {
  const QString name = name_->text().trimmed();
  const auto adjustments = scene::adjustmentsOf(desk_.session.scene(), desk_.session.active());
  if (name.isEmpty() || adjustments.empty()) return;
  QDir().mkpath(folder());
  QSaveFile file(fileOf(name));
  const std::string text = scene::lookRecord(name.toStdString(), adjustments);
  if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), qint64(text.size())) != qint64(text.size()) || !file.commit()) {
    emit desk_.messages.refused(tr("The look cannot be kept: %1").arg(file.errorString()));
    return;
  }
  name_->clear();
  refresh();
  list_->setCurrentIndex(list_->findText(name));
  emit desk_.messages.said(tr("The look %1 is kept for every project").arg(name));
}

void Looks::use() {
  QFile file(list_->currentData().toString());
  if (!file.open(QIODevice::ReadOnly) || file.size() > kMostBytes) {
    emit desk_.messages.refused(tr("The look cannot be read: %1").arg(file.errorString()));
    refresh();
    return;
  }
  const auto look = scene::lookFromRecord(file.readAll().toStdString());
  if (!look.ok()) {
    emit desk_.messages.refused(QString::fromStdString(look.error().text()));
    return;
  }
  const auto at = scene::positionOf(desk_.session.scene(), desk_.session.active());
  scene::Several all{"look " + look->name, {}};
  scene::LayerId free = scene::freeId(desk_.session.scene());
  int index = at ? at->index + 1 : -1;
  for (scene::Layer l : look->layers) {
    l.id = free;
    ++free.value;
    l.clip = confined_->isChecked() && at;
    l.name = look->name + ": " + scene::adjustmentName(l.adjustment()->adjustment);
    all.edits.push_back({scene::AddLayer{std::move(l), at ? at->parent : scene::LayerId{}, index}});
    if (index >= 0) ++index;
  }
  if (!all.edits.empty()) desk_.session.apply(all);
}

void Looks::forget() {
  QFile::remove(list_->currentData().toString());
  refresh();
}

void Looks::refresh() {
  const QString was = list_->currentText();
  list_->clear();
  for (const QString& file : QDir(folder()).entryList({QLatin1Char('*') + QLatin1String(kEnding)}, QDir::Files)) {
    const QByteArray name = QByteArray::fromHex(file.chopped(int(qstrlen(kEnding))).toLatin1());
    list_->addItem(QString::fromUtf8(name), folder() + QLatin1Char('/') + file);
  }
  list_->model()->sort(0);
  list_->setCurrentIndex(std::max(0, list_->findText(was)));
  for (QWidget* w : std::initializer_list<QWidget*>{list_, use_, forget_}) w->setEnabled(list_->count() > 0);
  keep_->setEnabled(!name_->text().trimmed().isEmpty() &&
                    !scene::adjustmentsOf(desk_.session.scene(), desk_.session.active()).empty());
}

}  // namespace hseam::app
