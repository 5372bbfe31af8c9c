#include "app/stations/hand_over/parcels.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/stations/hand_over/write_copy.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

constexpr int kFieldPx = 88;

// What was written, or why it was not: neither ends the others.
struct Outcome {
  std::optional<deliver::Sent> sent;
  std::optional<base::Error> error;
};

bool hasWeight(const deliver::Parcel& p) {
  return !p.layered && (p.options.kind == image::FileKind::jpeg || p.options.kind == image::FileKind::webp);
}

}  // namespace

Parcels::Parcels(Desk& desk, const WhoseItIs& whose, const WriteCopy& copy)
    : Page(desk, {"parcels", tr("Parcels"),
                  tr("Several files at once into one folder: for the web, for print, as a cut-out, with layers")}),
      whose_(whose),
      copy_(copy) {
  auto* c = column();
  const QString what[] = {tr("JPEG, sRGB"), tr("TIFF, 16 bit, 300 px an inch"), tr("PNG, transparent, trimmed"),
                          tr("OpenRaster with all layers")};
  const auto usual = deliver::usualParcels();
  for (std::size_t i = 0; i < usual.size(); ++i) addCard(usual[i], what[i], c);
  deliver::Parcel own;
  own.name = "own";
  own.suffix = "-copy";
  addCard(own, tr("as set under Write a flat copy"), c);
  replace_ = new QCheckBox(tr("replace files of these names"));
  replace_->setToolTip(tr("Otherwise what is there stays, and the parcel says so"));
  c->addWidget(replace_);
  permission_ = new PermissionQuestion;
  connect(permission_, &PermissionQuestion::changed, this, [this] { refresh(); });
  c->addWidget(permission_);
  go_ = button(tr("Choose the folder and write…"), tr("Writes every parcel that is ticked"), [this] { askAndSend(); });
  go_->setProperty("main", true);
  c->addWidget(go_);
  connect(&desk_.jobs, &Lane::changed, this, [this] { showProgress(); });
  refresh();
}

Parcels::Card& Parcels::addCard(const deliver::Parcel& parcel, const QString& what, QVBoxLayout* column) {
  Card card;
  card.parcel = parcel;
  const QString name = QString::fromStdString(parcel.name);
  card.key = QStringLiteral("parcel/") + name;
  const QSettings kept;
  auto* frame = new QFrame;
  auto* c = new QVBoxLayout(frame);
  c->setContentsMargins(0, 2, 0, 4);
  c->setSpacing(3);
  card.wanted = new QCheckBox(name);
  card.wanted->setChecked(kept.value(card.key + QStringLiteral("/wanted"), parcel.name == "web").toBool());
  card.wanted->setToolTip(tr("Whether this parcel is written"));
  auto* said = quietLabel(what);
  said->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  auto* head = new QHBoxLayout;
  head->addWidget(card.wanted);
  head->addWidget(said, 1);
  c->addLayout(head);
  card.suffix = new QLineEdit(kept.value(card.key + QStringLiteral("/suffix"), QString::fromStdString(parcel.suffix)).toString());
  card.suffix->setAccessibleName(tr("Ending of the name of %1").arg(name));
  card.suffix->setToolTip(tr("Comes after the project's name"));
  card.longSide = new QSpinBox;
  card.longSide->setRange(0, image::kMaxSide);
  card.longSide->setSpecialValueText(tr("full size"));
  card.longSide->setSuffix(tr(" px"));
  card.longSide->setAccessibleName(tr("Long side of %1").arg(name));
  card.longSide->setToolTip(tr("Pixels of the longer side; 0 = full size. Never enlarged."));
  card.longSide->setValue(kept.value(card.key + QStringLiteral("/longSide"), parcel.options.longSide).toInt());
  card.most = new QSpinBox;
  card.most->setRange(0, 100'000);
  card.most->setSpecialValueText(tr("any weight"));
  card.most->setSuffix(tr(" kB"));
  card.most->setPrefix(tr("≤ "));
  card.most->setAccessibleName(tr("Most weight of %1").arg(name));
  card.most->setToolTip(tr("The best quality that weighs no more; 0 = by quality"));
  card.most->setValue(kept.value(card.key + QStringLiteral("/most"), int(parcel.mostBytes / 1000)).toInt());
  const bool own = parcel.name == "own";
  card.longSide->setVisible(!parcel.layered && !own);
  card.most->setVisible(hasWeight(parcel) && !own);
  auto* fields = new QHBoxLayout;
  for (QWidget* field :
       {static_cast<QWidget*>(card.suffix), static_cast<QWidget*>(card.longSide), static_cast<QWidget*>(card.most)}) {
    field->setFixedWidth(kFieldPx);
    fields->addWidget(field);
  }
  fields->addStretch(1);
  c->addLayout(fields);
  card.bar = new QProgressBar;
  card.bar->setRange(0, 100);
  card.bar->setTextVisible(false);
  card.bar->setAccessibleName(tr("Progress of %1").arg(name));
  card.bar->hide();
  c->addWidget(card.bar);
  card.state = new QLabel;
  card.state->setWordWrap(true);
  card.state->setAccessibleName(tr("State of %1").arg(name));
  card.state->hide();
  c->addWidget(card.state);
  column->addWidget(frame);
  cards_.push_back(card);
  Card& stays = cards_.back();
  const auto remember = [this, &stays] {
    QSettings s;
    s.setValue(stays.key + QStringLiteral("/wanted"), stays.wanted->isChecked());
    s.setValue(stays.key + QStringLiteral("/suffix"), stays.suffix->text());
    s.setValue(stays.key + QStringLiteral("/longSide"), stays.longSide->value());
    s.setValue(stays.key + QStringLiteral("/most"), stays.most->value());
    refresh();
  };
  connect(stays.wanted, &QCheckBox::toggled, this, remember);
  connect(stays.suffix, &QLineEdit::editingFinished, this, remember);
  connect(stays.longSide, &QSpinBox::valueChanged, this, remember);
  connect(stays.most, &QSpinBox::valueChanged, this, remember);
  return stays;
}

deliver::Parcel Parcels::parcelOf(const Card& card) const {
  deliver::Parcel p = card.parcel;
  p.suffix = card.suffix->text().toStdString();
  if (p.name == "own") {
    p.layered = copy_.isLayered();
    p.options = copy_.options();
    return p;
  }
  p.options.longSide = card.longSide->value();
  p.options.about = whose_.metadata();
  p.mostBytes = std::int64_t(card.most->value()) * 1000;
  return p;
}

bool Parcels::anyWanted() const {
  return std::any_of(cards_.begin(), cards_.end(), [](const Card& c) { return c.wanted->isChecked(); });
}

void Parcels::refresh() {
  permission_->ask(desk_.session.scene());
  go_->setEnabled(permission_->answered() && anyWanted() && !desk_.session.scene().layers.empty());
}

QString Parcels::words() const {
  if (failed_ > 0) return tr("%1 failed").arg(failed_);
  return sent_ > 0 ? tr("%1 written").arg(sent_) : QString();
}

void Parcels::askAndSend() {
  const QString folder = QFileDialog::getExistingDirectory(this, tr("Where the parcels go"));
  if (!folder.isEmpty()) sendTo(folder);
}

void Parcels::sendTo(const QString& folder) {
  sent_ = failed_ = 0;
  for (Card& card : cards_) {
    card.state->setVisible(card.wanted->isChecked());
    if (!card.wanted->isChecked()) continue;
    card.state->setText(tr("waits"));
    desk_.jobs.start<Outcome>(
        {tr("Write %1").arg(card.wanted->text()), card.key},
        [s = desk_.session.scene(), parcel = parcelOf(card), folder = folder.toStdString(),
         title = desk_.session.title().toStdString(),
         replace = replace_->isChecked()](base::Executor& executor, const base::Progress& progress) -> base::Result<Outcome> {
          auto sent = deliver::send(s, parcel, folder, title, replace, executor, progress);
          if (sent.ok()) return Outcome{*sent, {}};
          if (sent.error().code == base::Code::cancelled) return sent.error();
          return Outcome{{}, sent.error()};
        },
        [this, &card](const Outcome& o) {
          ended(card, o.sent ? base::Result<deliver::Sent>(*o.sent) : base::Result<deliver::Sent>(*o.error));
        });
  }
  permission_->askAgain();
  showProgress();
}

void Parcels::ended(Card& card, const base::Result<deliver::Sent>& sent) {
  if (sent.ok()) {
    ++sent_;
    QString said = tr("%1 × %2 px, %3")
                       .arg(sent->size.width)
                       .arg(sent->size.height)
                       .arg(QLocale().formattedDataSize(sent->bytes, 1, QLocale::DataSizeSIFormat));
    if (sent->quality > 0) said += tr(", quality %1").arg(sent->quality);
    for (const std::string& w : sent->warnings) said += QStringLiteral("\n") + QString::fromStdString(w);
    card.state->setText(said);
    permission_->handedOver(QString::fromStdString(sent->path));
  } else {
    ++failed_;
    card.state->setText(tr("not written: %1").arg(QString::fromStdString(sent.error().detail)));
  }
  emit changed();
}

void Parcels::showProgress() {
  const auto entries = desk_.jobs.entries();
  for (Card& card : cards_) {
    const QString name = tr("Write %1").arg(card.wanted->text());
    const auto at = std::find_if(entries.begin(), entries.end(), [&](const Lane::Entry& e) { return e.name == name; });
    const bool runs = at != entries.end() && at->runs;
    card.bar->setVisible(runs);
    if (runs) card.bar->setValue(int(100 * at->share));
    if (at == entries.end() && card.state->text() == tr("waits")) card.state->setText(tr("stopped"));
  }
}

}  // namespace hseam::app
