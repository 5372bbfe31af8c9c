#include "app/stations/hand_over/write_copy.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QVBoxLayout>
#include <algorithm>

#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"
#include "core/deliver/layered.h"
#include "core/image/colour_profile.h"
#include "core/tasks/plate.h"

namespace hseam::app {
namespace {

using image::FileKind;
constexpr const char* kEndings[] = {".jpg", ".png", ".tif", ".webp", ".exr", ".ora"};
constexpr FileKind kFileKinds[] = {FileKind::jpeg, FileKind::png, FileKind::tiff, FileKind::webp, FileKind::openexr};
constexpr int kLayered = 5;  // OpenRaster stands after the flat kinds
constexpr int kWeighAfterMs = 500;

}  // namespace

WhoseItIs::WhoseItIs(Desk& desk)
    : Page(desk, {"whose", tr("Say whose it is"), tr("Title, maker and rights, written into the file for whoever opens it")}) {
  auto* c = column();
  const struct {
    QString name, key;
  } lines[] = {{tr("title"), QStringLiteral("title")},
               {tr("made by"), QStringLiteral("creator")},
               {tr("rights"), QStringLiteral("rights")}};
  for (const auto& l : lines) {
    auto* edit = new QLineEdit(QSettings().value(QStringLiteral("about/") + l.key).toString());
    edit->setAccessibleName(l.name);
    edit->setToolTip(tr("Written into JPEG, PNG, TIFF and WebP files; kept for the next time"));
    connect(edit, &QLineEdit::editingFinished, this,
            [edit, key = l.key] { QSettings().setValue(QStringLiteral("about/") + key, edit->text()); });
    lines_.push_back(edit);
    c->addWidget(namedRow(l.name, edit));
  }
  composite_ = new QCheckBox(tr("say that it is a composite"));
  composite_->setToolTip(tr("Where more than one picture shows, the file is marked as put together (IPTC digital source type)"));
  composite_->setChecked(QSettings().value(QStringLiteral("about/composite"), true).toBool());
  connect(composite_, &QCheckBox::toggled, this, [](bool on) { QSettings().setValue(QStringLiteral("about/composite"), on); });
  c->addWidget(composite_);
}

image::Metadata WhoseItIs::metadata() const {
  image::Metadata about;
  // One picture is no composite, whatever was done to it.
  const auto layers = scene::allLayers(desk_.session.scene());
  const auto pictures = std::count_if(
      layers.begin(), layers.end(), [](const scene::LayerRef& l) { return !l->hidden && l->picture() && !l->picture()->byHand; });
  if (composite_->isChecked() && pictures > 1) about.sourceType = image::kCompositeOfCaptures;
  about.title = lines_[0]->text().toStdString();
  about.creator = lines_[1]->text().toStdString();
  about.rights = lines_[2]->text().toStdString();
  return about;
}

WriteCopy::WriteCopy(Desk& desk, const WhoseItIs& whose)
    : Page(desk, {"write", tr("Write a flat copy"), tr("The picture for others; the layered original stays in the project")}),
      whose_(whose) {
  auto* c = column();
  kind_ = new QComboBox;
  kind_->addItems({tr("JPEG"), tr("PNG, keeps transparency"), tr("TIFF, 16 bit"), tr("WebP"), tr("OpenEXR, light in half floats"),
                   tr("OpenRaster, with layers")});
  kind_->setAccessibleName(tr("Kind of file"));
  kind_->setToolTip(
      tr("JPEG and WebP are light, PNG keeps transparency, TIFF keeps 16 bit for print, OpenEXR keeps light, OpenRaster keeps "
         "layers"));
  c->addWidget(kind_);
  longSide_ = new QSpinBox;
  longSide_->setRange(0, image::kMaxSide);
  longSide_->setSpecialValueText(tr("full size"));
  longSide_->setSuffix(tr(" px"));
  longSide_->setAccessibleName(tr("Long side"));
  longSide_->setToolTip(tr("Pixels of the longer side; 0 = full size. Never enlarged."));
  c->addWidget(namedRow(tr("long side"), longSide_));
  quality_ = new ValueField(tr("quality"), {1, 100, 92, 0, {}, true},
                            tr("Of JPEG and WebP: lower is lighter and shows blocks; WebP at 100 loses nothing"));
  c->addWidget(quality_);
  alpha_ = new QCheckBox(tr("keep transparency"));
  alpha_->setChecked(true);
  alpha_->setToolTip(tr("PNG and TIFF: empty places stay empty; else they become white"));
  wide_ = new QCheckBox(tr("16 bit"));
  wide_->setToolTip(tr("PNG with 16 bit a channel"));
  c->addWidget(rowOf({alpha_, wide_}));
  profile_ = new QComboBox;
  profile_->setAccessibleName(tr("Colour profile of the file"));
  profile_->setToolTip(
      tr("sRGB is right for screens and the web; a printer's or a monitor's ICC profile of RGB where one is asked for. "
         "Look over, under On paper, shows beforehand what it can hold"));
  connect(profile_, &QComboBox::activated, this, &WriteCopy::chooseProfile);
  c->addWidget(namedRow(tr("profile"), profile_));
  listProfiles();
  plate_ = new QCheckBox(tr("before and after beside each other"));
  plate_->setToolTip(tr("One picture of both on white, with words below: the pictures as they came, and the scene as it is now"));
  c->addWidget(plate_);
  weight_ = new QLabel;
  weight_->setAccessibleName(tr("Size and weight of the file"));
  weight_->setToolTip(tr("Measured by writing the file to a temporary place"));
  c->addWidget(weight_);
  permission_ = new PermissionQuestion;
  connect(permission_, &PermissionQuestion::changed, this, [this] {
    go_->setEnabled(mayGoOut());
    emit changed();
  });
  c->addWidget(permission_);
  go_ = button(tr("Write the file…"), tr("Choose where; an existing file is only replaced if you say so"), [this] { ask(); });
  go_->setProperty("main", true);
  c->addWidget(go_);
  c->addWidget(
      quietLabel(tr("The profile is embedded. A picture of people may be handed over only as far as their permission goes.")));
  weighLater_.setSingleShot(true);
  connect(&weighLater_, &QTimer::timeout, this, [this] { weigh(); });
  connect(kind_, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
  connect(longSide_, &QSpinBox::valueChanged, this, [this] { refresh(); });
  connect(quality_, &ValueField::changed, this, [this] { refresh(); });
  connect(alpha_, &QCheckBox::clicked, this, [this] { refresh(); });
  connect(wide_, &QCheckBox::clicked, this, [this] { refresh(); });
  connect(plate_, &QCheckBox::clicked, this, [this] { refresh(); });
}

deliver::ExportOptions WriteCopy::options() const {
  deliver::ExportOptions o{kFileKinds[std::min(kind_->currentIndex(), kLayered - 1)],
                           longSide_->value(),
                           int(quality_->value()),
                           alpha_->isChecked(),
                           wide_->isChecked(),
                           whose_.metadata()};
  o.profile = profilePath_.toStdString();
  return o;
}

void WriteCopy::listProfiles() {
  profile_->clear();
  profile_->addItem(tr("sRGB"));
  if (!profilePath_.isEmpty()) profile_->addItem(QFileInfo(profilePath_).completeBaseName());
  profile_->addItem(tr("another profile…"));
  profile_->setCurrentIndex(profilePath_.isEmpty() ? 0 : 1);
}

void WriteCopy::chooseProfile(int index) {
  if (index == profile_->count() - 1) {
    const QString path = QFileDialog::getOpenFileName(this, tr("A colour profile of RGB"), {}, tr("ICC profiles (*.icc *.icm)"));
    if (path.isEmpty() || !useProfile(path)) listProfiles();
  } else if (index == 0) {
    useProfile({});
  }
}

bool WriteCopy::useProfile(const QString& path) {
  if (!path.isEmpty()) {
    const auto bytes = image::readProfile(path.toStdString());
    const auto made = bytes.ok() ? image::FromSrgb::make(*bytes) : base::Result<image::FromSrgb>(bytes.error());
    if (!made.ok()) {
      emit desk_.messages.refused(
          QString::fromStdString(base::Error{made.error().code, path.toStdString(), made.error().detail}.text()));
      return false;
    }
  }
  profilePath_ = path;
  listProfiles();
  refresh();
  return true;
}

bool WriteCopy::isLayered() const {
  return kind_->currentIndex() == kLayered;
}

bool WriteCopy::hasQuality() const {
  const int kind = kind_->currentIndex();
  return kind != kLayered && (kFileKinds[kind] == FileKind::jpeg || kFileKinds[kind] == FileKind::webp);
}

void WriteCopy::setQuality(int quality) {
  quality_->setValue(quality);
  refresh();
}

void WriteCopy::refresh() {
  permission_->ask(desk_.session.scene());
  go_->setEnabled(mayGoOut());
  const int kind = kind_->currentIndex();
  const bool layered = kind == kLayered;
  quality_->setEnabled(hasQuality());
  alpha_->setEnabled(kind != 0 && !layered);
  longSide_->setEnabled(!layered);
  plate_->setEnabled(!layered);
  profile_->setEnabled(!layered && kFileKinds[std::min(kind, kLayered - 1)] != FileKind::openexr);
  if (layered) {
    weighed_.reset();
    weight_->setText(tr("all layers at full size"));
    return;
  }
  wide_->setEnabled(kind_->currentIndex() == 1);
  const scene::Scene& now = desk_.session.scene();
  const bool known = weighed_ && weighed_->options == options() && weighed_->scene.layers == now.layers &&
                     weighed_->scene.canvas == now.canvas && weighed_->scene.mixing == now.mixing &&
                     weighed_->plate == plate_->isChecked();
  if (known || !isVisible()) return;
  weighed_ = Weighed{now, options(), plate_->isChecked()};
  const base::Size s = deliver::exportSize(now.canvas, longSide_->value());
  weight_->setText(plate_->isChecked() ? tr("weighing…") : tr("%1 × %2 px, weighing…").arg(s.width).arg(s.height));
  weighLater_.start(kWeighAfterMs);
}

void WriteCopy::weigh() {
  if (!isVisible() || kind_->currentIndex() == kLayered) {
    weighed_.reset();
    return;
  }
  if (desk_.jobs.running()) {
    weighLater_.start(kWeighAfterMs);  // weighing must not push other work aside
    return;
  }
  struct Weight {
    std::int64_t bytes;
    base::Size size;
  };
  desk_.jobs.start<Weight>(
      tr("Weigh the file"),
      [scene = toWrite(), o = options()](base::Executor& e, const base::Progress& p) -> base::Result<Weight> {
        HSEAM_TRY(const scene::Scene s, scene(e, p.part(0, 0.3)));
        HSEAM_TRY(const std::int64_t bytes, deliver::exportWeight(s, o, e, p.part(0.3, 1)));
        return Weight{bytes, deliver::exportSize(s.canvas, o.longSide)};
      },
      [this](const Weight& w) {
        weight_->setText(tr("%1 × %2 px, %3").arg(w.size.width).arg(w.size.height).arg(QLocale().formattedDataSize(w.bytes)));
      });
}

std::function<base::Result<scene::Scene>(base::Executor&, const base::Progress&)> WriteCopy::toWrite() const {
  const scene::Scene& s = desk_.session.scene();
  if (!plate_->isChecked()) return [s](base::Executor&, const base::Progress&) { return base::Result<scene::Scene>(s); };
  const tasks::PlateOptions words{tr("before").toStdString(), tr("after").toStdString()};
  return [s, words, memory = desk_.session.memory()](base::Executor& e, const base::Progress& p) {
    return tasks::plate(s, words, memory, e, p);
  };
}

void WriteCopy::ask() {
  if (!mayGoOut()) {
    emit openAsked();
    emit desk_.messages.said(tr("First check the permissions: the page lists what stands against handing it over."));
    return;
  }
  const QString ending = QLatin1String(kEndings[kind_->currentIndex()]);
  const QString path =
      askWhereToWrite(this, tr("Write a flat copy"), desk_.session.title() + ending, {ending}, tr("Pictures (*%1)").arg(ending));
  if (!path.isEmpty()) write(path);
}

void WriteCopy::writeLayered(const QString& path) {
  using Warnings = std::vector<std::string>;
  desk_.jobs.start<Warnings>(
      tr("Write %1").arg(QFileInfo(path).fileName()),
      [s = desk_.session.scene(), path](base::Executor& e, const base::Progress& p) {
        return deliver::exportLayered(s, path.toStdString(), e, p);
      },
      [this, path](const Warnings& warnings) {
        isWritten(path);
        QStringList words;
        for (const std::string& w : warnings) words << QString::fromStdString(w);
        if (!words.isEmpty())
          emit desk_.messages.refused(tr("What the format cannot hold: %1").arg(words.join(QStringLiteral("; "))));
      });
}

void WriteCopy::write(const QString& path) {
  if (kind_->currentIndex() == kLayered) {
    writeLayered(path);
    return;
  }
  const deliver::ExportOptions o = options();
  desk_.jobs.start<bool>(
      tr("Write %1").arg(QFileInfo(path).fileName()),
      [scene = toWrite(), o, path](base::Executor& e, const base::Progress& p) -> base::Result<bool> {
        HSEAM_TRY(const scene::Scene s, scene(e, p.part(0, 0.3)));
        HSEAM_DO(deliver::exportScene(s, path.toStdString(), o, e, p.part(0.3, 1)));
        return true;
      },
      [this, path](bool) { isWritten(path); });
}

void WriteCopy::isWritten(const QString& path) {
  written_ = QFileInfo(path).fileName();
  permission_->handedOver(path);
  permission_->askAgain();
  emit desk_.messages.said(tr("Written: %1, %2").arg(path, QLocale().formattedDataSize(QFileInfo(path).size())));
  emit changed();
}

}  // namespace hseam::app
