#include "app/stations/look_over/tolerances.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSaveFile>
#include <QSignalBlocker>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/findings/tolerance_sets.h"

namespace hseam::app {
namespace {

constexpr auto kEnding = ".tolerances.json";
constexpr qint64 kMostBytes = 1 << 20;

base::Result<findings::OwnToleranceSet> readSet(const QString& path) {
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly) || file.size() > kMostBytes)
    return base::Error{base::Code::unreadable, path.toStdString(), file.errorString().toStdString()};
  return findings::toleranceSetFromRecord(file.readAll().toStdString());
}

}  // namespace

QString Tolerances::folder() {
  return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/tolerances");
}

QString Tolerances::fileOf(const QString& name) const {
  return folder() + QLatin1Char('/') + QString::fromLatin1(name.toUtf8().toHex()) + QLatin1String(kEnding);
}

Tolerances::Tolerances(Desk& desk)
    : Page(desk, {"tolerances", tr("How strictly it is judged"), tr("Which kinds are looked for, and from where on they count")}),
      sets_(new QComboBox),
      name_(new QLineEdit) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  sets_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  sets_->setMinimumContentsLength(12);
  sets_->setAccessibleName(tr("Tolerances"));
  sets_->setToolTip(tr("How strictly this project is judged; kept with it"));
  connect(sets_, &QComboBox::activated, this, &Tolerances::take);
  column->addWidget(sets_);
  for (const findings::Kind& k : findings::kinds()) {
    auto* looked = new QCheckBox(tr(k.name));
    looked->setToolTip(tr("%1. Without its tick it is not looked for in this project").arg(tr(k.tip)));
    const std::string kind = findings::keyOf(k.id), name = k.name;
    connect(looked, &QCheckBox::clicked, this, [this, kind, name](bool on) {
      scene::Judging j = now();
      on ? void(j.off.erase(kind)) : void(j.off.insert(kind));
      desk_.session.apply(scene::SetJudging{j, (on ? "look for " : "do not look for ") + name});
    });
    auto* box = new QDoubleSpinBox;
    box->setRange(k.ratio ? 1.01 : 0.01, k.ratio ? 10 : 1000);
    box->setDecimals(2);
    box->setSingleStep(k.ratio ? 0.05 : (k.tolerance >= 20 ? 1 : 0.1));
    box->setSuffix(QLatin1Char(' ') + tr(k.unit));
    box->setKeyboardTracking(false);
    box->setAccessibleName(tr("Tolerance of %1").arg(tr(k.name)));
    box->setToolTip(k.ratio ? tr("So many times more or less is let pass") : tr("So much is let pass"));
    box->setFixedSize(126, 24);
    connect(box, &QDoubleSpinBox::valueChanged, this, [this, kind, name](double v) {
      scene::Judging j = now();
      j.tolerance[kind] = v;
      desk_.session.apply(scene::SetJudging{j, "tolerance of " + name});
    });
    column->addWidget(rowOf({looked, box}));
    rows_.push_back({k.id, looked, box});
  }
  name_->setPlaceholderText(tr("name of the set"));
  name_->setMaxLength(80);
  name_->setAccessibleName(tr("Name of the set"));
  name_->setToolTip(tr("Under which these tolerances are kept for every project"));
  keep_ = button(tr("Keep"), tr("These tolerances as a set of your own"), [this] { keep(); });
  forget_ =
      button(tr("Forget"), tr("The chosen set of your own goes; projects that used it stay as they are"), [this] { forget(); });
  connect(name_, &QLineEdit::textChanged, this, [this](const QString& t) { keep_->setEnabled(!t.trimmed().isEmpty()); });
  connect(name_, &QLineEdit::returnPressed, this, &Tolerances::keep);
  keep_->setEnabled(false);
  column->addWidget(rowOf({name_, keep_, forget_}));
  again_ =
      button(tr("Look for every kind again"), tr("Takes back what was accepted, called wrong or not to be looked for"), [this] {
        scene::Judging j = now();
        j.off.clear();
        j.answered.clear();
        desk_.session.apply(scene::SetJudging{j, "look for every kind again"});
      });
  column->addWidget(again_);
  listSets();
}

scene::Judging Tolerances::now() const {
  return desk_.session.scene().judging ? *desk_.session.scene().judging : scene::Judging{};
}

void Tolerances::listSets() {
  const QSignalBlocker quiet(sets_);
  sets_->clear();
  for (const auto& s : findings::toleranceSets()) {
    sets_->addItem(tr(s.name), QString::fromLatin1(s.key));
    sets_->setItemData(sets_->count() - 1, tr(s.tip), Qt::ToolTipRole);
  }
  for (const QString& file : QDir(folder()).entryList({QLatin1Char('*') + QLatin1String(kEnding)}, QDir::Files)) {
    const QString name = QString::fromUtf8(QByteArray::fromHex(file.chopped(int(qstrlen(kEnding))).toLatin1()));
    sets_->addItem(name, name);
    sets_->setItemData(sets_->count() - 1, tr("A set of your own"), Qt::ToolTipRole);
  }
}

void Tolerances::take() {
  const QString key = sets_->currentData().toString();
  const bool own = sets_->currentIndex() >= int(findings::toleranceSets().size());
  scene::Judging next = now();
  if (own) {
    const auto set = readSet(fileOf(key));
    if (!set.ok()) {
      emit desk_.messages.refused(QString::fromStdString(set.error().text()));
      listSets();
      refresh();
      return;
    }
    next = findings::judgedBy(next, *set);
  } else {
    next = findings::judgedBy(next, key.toStdString());
  }
  if (next != now()) desk_.session.apply(scene::SetJudging{next, "tolerances: " + sets_->currentText().toStdString()});
}

void Tolerances::keep() {
  const QString name = name_->text().trimmed();
  if (name.isEmpty()) return;
  findings::OwnToleranceSet set{name.toStdString(), {}};
  for (const findings::Kind& k : findings::kinds())
    set.tolerance[k.key] = findings::toleranceOf(k, desk_.session.scene().judging.get());
  QDir().mkpath(folder());
  QSaveFile file(fileOf(name));
  const std::string text = findings::toleranceSetRecord(set);
  if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), qint64(text.size())) != qint64(text.size()) || !file.commit()) {
    emit desk_.messages.refused(tr("The tolerances cannot be kept: %1").arg(file.errorString()));
    return;
  }
  name_->clear();
  listSets();
  desk_.session.apply(scene::SetJudging{findings::judgedBy(now(), set), "tolerances: " + set.name});
  refresh();
}

void Tolerances::forget() {
  QFile::remove(fileOf(sets_->currentData().toString()));
  listSets();
  refresh();
}

QString Tolerances::words() const {
  const scene::Judging j = now();
  const int off = int(j.off.size());
  const QString set = sets_->currentText();
  return off == 0 ? set : tr("%1, without %2 kinds").arg(set).arg(off);
}

void Tolerances::refresh() {
  const scene::Judging j = now();
  const QSignalBlocker quiet(sets_);
  sets_->setCurrentIndex(std::max(0, sets_->findData(QString::fromStdString(j.tolerances))));
  for (const Row& r : rows_) {
    r.looked->setChecked(!j.off.contains(findings::keyOf(r.kind)));
    const QSignalBlocker still(r.tolerance);
    r.tolerance->setValue(findings::toleranceOf(findings::kindOf(r.kind), &j));
    r.tolerance->setEnabled(r.looked->isChecked());
  }
  forget_->setEnabled(sets_->currentIndex() >= int(findings::toleranceSets().size()));
  again_->setVisible(!j.off.empty() || !j.answered.empty());
}

}  // namespace hseam::app
