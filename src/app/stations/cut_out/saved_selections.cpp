#include "app/stations/cut_out/saved_selections.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/cut_out/cut_work.h"
#include "app/stations/cut_out/subject_layers.h"
#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"
#include "core/image/picture_file.h"
#include "core/path/cover.h"
#include "core/render/canvas_change.h"
#include "core/select/shape.h"

namespace hseam::app {
namespace {

constexpr int kThumbnail = 40;  // px

// Light where selected; of the level just above the thumbnail.
QImage thumbnailOf(const image::TiledImage& coverage) {
  int level = 0;
  while (level + 1 < coverage.levelCount() &&
         std::max(coverage.level(level).size.width, coverage.level(level).size.height) > 2 * kThumbnail)
    ++level;
  const base::Size size = coverage.level(level).size;
  const auto read = image::read8(coverage, level, {0, 0, size.width, size.height});
  if (!read.ok()) return {};
  const QImage whole(read->samples().data(), size.width, size.height, size.width, QImage::Format_Grayscale8);
  return whole.scaled(kThumbnail, kThumbnail, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

// The selection's centre of gravity, px of the picture, read on a coarse level.
std::optional<base::Point> middleOf(const image::TiledImage& coverage) {
  int level = 0;
  while (level + 1 < coverage.levelCount() && coverage.level(level).size.width > 256) ++level;
  const base::Size size = coverage.level(level).size;
  const auto read = image::read8(coverage, level, {0, 0, size.width, size.height});
  if (!read.ok()) return std::nullopt;
  double x = 0, y = 0, all = 0;
  for (int j = 0; j < size.height; ++j) {
    for (int i = 0; i < size.width; ++i) {
      const double v = *read->at(i, j);
      x += v * (i + 0.5), y += v * (j + 0.5), all += v;
    }
  }
  if (all <= 0) return std::nullopt;
  return base::Point{x / all * (1 << level), y / all * (1 << level)};
}

}  // namespace

SavedSelections::SavedSelections(Desk& desk)
    : SelectingPage(desk, {"kept", tr("Keep and combine"), tr("Selections kept by name, combined, moved, scaled, turned")}),
      move_(
          [this](QPointF a, QPointF b) {
            transform({1, 0, 0, 1, b.x() - a.x(), b.y() - a.y()}, tr("selection moved"));
          },
          [this] { return tr("drag to move the selection; its pixels stay"); }),
      name_(new QLineEdit),
      list_(new QListWidget),
      from_(new QComboBox),
      how_(new QComboBox) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  name_->setPlaceholderText(tr("name"));
  name_->setAccessibleName(tr("Name to keep the selection under"));
  name_->setToolTip(tr("The selection in hand is kept under this name"));
  connect(name_, &QLineEdit::returnPressed, this, &SavedSelections::keep);
  keep_ = button(tr("Keep"), tr("Keep the selection in hand under this name, in the project"), [this] { keep(); });
  column->addWidget(rowOf({name_, keep_}));
  list_->setAccessibleName(tr("Kept selections"));
  list_->setToolTip(tr("A double click on a name changes it"));
  list_->setIconSize({kThumbnail, kThumbnail});
  list_->setFixedHeight(112);
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) { renamed(list_->row(item), item->text()); });
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
    if (row >= 0 && !filling_) from_->setCurrentIndex(row);
    refresh();
  });
  column->addWidget(list_);
  drop_ = button(tr("Drop"), tr("The chosen one is kept no longer"), [this] { drop(); });
  write_ = button(tr("Write…"), tr("The chosen one as a grey PNG"), [this] { writeFile(); });
  column->addWidget(
      rowOf({drop_, write_,
             button(tr("Read…"), tr("A grey picture of this picture's size, as a kept selection"), [this] { readFile(); })}));
  from_->setAccessibleName(tr("What is taken up"));
  from_->setToolTip(tr("A kept selection, this layer's own coverages, or what other layers cover"));
  how_->addItems({tr("starts anew"), tr("adds"), tr("takes away"), tr("keeps the overlap")});
  how_->setAccessibleName(tr("What it does to the selection in hand"));
  how_->setToolTip(how_->accessibleName());
  column->addWidget(quietLabel(tr("Take up")));
  column->addWidget(rowOf({from_, how_}));
  take_ = button(tr("Take up"), tr("Into the selection in hand, in the way chosen beside it"), [this] { takeUp(); });
  copy_ = button(tr("Copy to a layer"), tr("What is selected, in its place, on a layer of its own"), [this] { copyToLayer(); });
  column->addWidget(rowOf({take_, copy_}));
  pieces_ =
      button(tr("A layer for each subject"),
             tr("Everything that stands by itself in the mask, or in the selection, which is solved first, becomes a layer"),
             [this] { layerForEachPiece(desk_.session, desk_.messages, desk_.jobs); });
  column->addWidget(pieces_);
  column->addWidget(quietLabel(tr("Change the selection in hand: drag on the canvas to move it, or")));
  scale_ = new ValueField(tr("scale"), {5, 800, 100, 1, tr("%"), false}, tr("About its middle"));
  turn_ = new ValueField(tr("turn"), {-180, 180, 0, 1, tr("°"), true}, tr("About its middle, clockwise"));
  column->addWidget(scale_);
  column->addWidget(turn_);
  transform_ = button(tr("Scale and turn"), tr("By these two numbers, about its middle"), [this] {
    const auto middle = picture() ? middleOf(picture()->cutout->selection) : std::nullopt;
    if (!middle) return;
    const double k = scale_->value() / 100, t = turn_->value() * M_PI / 180, c = k * std::cos(t), s = k * std::sin(t);
    transform({c, -s, s, c, middle->x - c * middle->x + s * middle->y, middle->y - s * middle->x - c * middle->y},
              tr("selection scaled and turned"));
    scale_->setValue(100);
    turn_->setValue(0);
  });
  column->addWidget(transform_);
}

const scene::PictureContent* SavedSelections::picture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

QString SavedSelections::words() const {
  const auto* p = picture();
  return p && !p->cutout->saved.empty() ? tr("%1 kept").arg(p->cutout->saved.size()) : tr("none kept");
}

std::vector<SavedSelections::Source> SavedSelections::sources() const {
  std::vector<Source> all;
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = picture();
  if (!p) return all;
  const auto as = [](const image::TiledImage& i) {
    return [i](base::Executor&) -> base::Result<image::TiledImage> { return i; };
  };
  for (const auto& kept : p->cutout->saved) all.push_back({QString::fromStdString(kept.name), as(kept.coverage)});
  if (!p->cutout->alpha.isNull()) all.push_back({tr("the solved edge"), as(p->cutout->outcome())});
  if (!l->mask.coverage.isNull() && l->mask.coverage.format() == image::PixelFormat::grey8)
    all.push_back({tr("the mask"), as(l->mask.coverage)});
  if (l->mask.path) {
    all.push_back({tr("the path"), [path = l->mask.path, size = p->source.size(), memory = desk_.session.memory()](
                                       base::Executor& e) { return path::coverage(*path, size, memory, e); }});
  }
  for (const auto& other : scene::allLayers(desk_.session.scene())) {
    if (other->id == l->id || other->mask.coverage.isNull() || other->mask.coverage.format() != image::PixelFormat::grey8)
      continue;
    all.push_back({tr("what %1 covers").arg(QString::fromStdString(other->name)),
                   [s = desk_.session.scene(), from = other, to = l->id](base::Executor& e) {
                     return render::maskCarried(s, *from, *scene::findLayer(s, to), e);
                   }});
  }
  return all;
}

void SavedSelections::refresh() {
  const auto* p = picture();
  setEnabled(p != nullptr);
  const std::vector<scene::NamedSelection> saved = p ? p->cutout->saved : std::vector<scene::NamedSelection>{};
  std::vector<std::uint64_t> stamps;
  std::vector<std::string> names;
  for (const auto& s : saved) stamps.push_back(s.coverage.stamp()), names.push_back(s.name);
  if (stamps != shown_ || names != names_) {
    shown_ = stamps;
    names_ = names;
    showThumbnails(saved);
  }
  const int chosen = from_->currentIndex();
  QStringList choices;
  for (const Source& s : sources()) choices << s.name;
  QStringList now;
  for (int i = 0; i < from_->count(); ++i) now << from_->itemText(i);
  if (choices != now) {
    const QSignalBlocker quiet(from_);
    from_->clear();
    from_->addItems(choices);
    from_->setCurrentIndex(chosen >= 0 && chosen < from_->count() ? chosen : from_->count() - 1);
  }
  const bool selected = p && !p->cutout->selection.isNull(), row = list_->currentRow() >= 0;
  for (QPushButton* b : {keep_, copy_, transform_}) b->setEnabled(selected);
  for (QPushButton* b : {drop_, write_}) b->setEnabled(row);
  take_->setEnabled(from_->count() > 0);
  pieces_->setEnabled(selected || (p && !desk_.session.activeLayer()->mask.coverage.isNull()));
}

void SavedSelections::showThumbnails(const std::vector<scene::NamedSelection>& saved) {
  const QSignalBlocker quiet(list_);
  filling_ = true;
  const int row = list_->currentRow();
  list_->clear();
  for (const auto& s : saved) {
    auto* item = new QListWidgetItem(QString::fromStdString(s.name), list_);
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    item->setIcon(QPixmap::fromImage(thumbnailOf(s.coverage)));
  }
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  filling_ = false;
}

void SavedSelections::apply(std::vector<scene::NamedSelection> saved, const QString& how) {
  desk_.session.apply(scene::SetSavedSelections{desk_.session.active(), std::move(saved), how.toStdString()});
}

void SavedSelections::keep() {
  const auto* p = picture();
  if (!p || p->cutout->selection.isNull()) return;
  auto saved = p->cutout->saved;
  const QString name = name_->text().trimmed().isEmpty() ? tr("selection %1").arg(saved.size() + 1) : name_->text().trimmed();
  // The same name: the newer one takes its place.
  std::erase_if(saved, [&](const scene::NamedSelection& s) { return s.name == name.toStdString(); });
  saved.push_back({name.toStdString(), p->cutout->selection});
  apply(std::move(saved), tr("keep the selection %1").arg(name));
  name_->clear();
  refresh();  // the list has it now
  list_->setCurrentRow(list_->count() - 1);
}

void SavedSelections::drop() {
  const auto* p = picture();
  const int row = list_->currentRow();
  if (!p || row < 0 || row >= int(p->cutout->saved.size())) return;
  auto saved = p->cutout->saved;
  const QString name = QString::fromStdString(saved[std::size_t(row)].name);
  saved.erase(saved.begin() + row);
  apply(std::move(saved), tr("drop the selection %1").arg(name));
}

void SavedSelections::renamed(int row, const QString& name) {
  const auto* p = picture();
  if (!p || filling_ || row < 0 || row >= int(p->cutout->saved.size()) || name.trimmed().isEmpty()) return;
  auto saved = p->cutout->saved;
  if (saved[std::size_t(row)].name == name.trimmed().toStdString()) return;
  saved[std::size_t(row)].name = name.trimmed().toStdString();
  apply(std::move(saved), tr("name a selection %1").arg(name.trimmed()));
}

void SavedSelections::takeUp() {
  const auto* p = picture();
  const auto all = sources();
  const int i = from_->currentIndex();
  if (!p || i < 0 || i >= int(all.size())) return;
  constexpr select::Combine kWays[] = {select::Combine::replace, select::Combine::add, select::Combine::takeAway,
                                       select::Combine::overlap};
  desk_.jobs.start<image::TiledImage>(
      tr("Take up a selection"),
      [before = selectionOrEmpty(desk_), make = all[std::size_t(i)].make, how = kWays[how_->currentIndex()]](
          base::Executor& e, const base::Progress&) -> base::Result<image::TiledImage> {
        HSEAM_TRY(const image::TiledImage other, make(e));
        if (how == select::Combine::replace) return other;
        const base::Rect whole = base::Rect::of(other.size());
        HSEAM_TRY(const auto part, image::read8(other, 0, whole));
        return select::combined(before, whole, part, how, e);
      },
      [this, from = desk_.session.scene(), id = desk_.session.active(), name = all[std::size_t(i)].name,
       how = how_->currentText()](image::TiledImage made) {
        desk_.session.applyResult(scene::SetSelection{id, std::move(made), tr("%1 %2").arg(name, how).toStdString()}, from);
      });
}

void SavedSelections::readFile() {
  const auto* p = picture();
  if (!p) return;
  const QString path = QFileDialog::getOpenFileName(this, tr("Read a selection"), {}, tr("Grey pictures (*.png *.tif *.tiff)"));
  if (path.isEmpty()) return;
  const auto read = image::readCoverage(path.toStdString(), desk_.session.memory(), desk_.session.executor());
  if (!read.ok() || read->size() != p->source.size() || read->format() != image::PixelFormat::grey8) {
    emit desk_.messages.refused(read.ok() ? tr("A selection has 8 bit and this picture's size, %1 × %2")
                                                .arg(p->source.size().width)
                                                .arg(p->source.size().height)
                                          : QString::fromStdString(read.error().text()));
    return;
  }
  auto saved = p->cutout->saved;
  saved.push_back({QFileInfo(path).completeBaseName().toStdString(), *read});
  apply(std::move(saved), tr("read a selection"));
}

void SavedSelections::writeFile() {
  const auto* p = picture();
  const int row = list_->currentRow();
  if (!p || row < 0 || row >= int(p->cutout->saved.size())) return;
  const auto& kept = p->cutout->saved[std::size_t(row)];
  const QString path =
      askWhereToWrite(this, tr("Write the selection"), QString::fromStdString(kept.name) + QStringLiteral(".png"),
                      {QStringLiteral(".png")}, tr("PNG (*.png)"));
  if (path.isEmpty()) return;
  if (const auto done = image::writeTiled(path.toStdString(), kept.coverage); !done.ok())
    emit desk_.messages.refused(QString::fromStdString(done.error().text()));
}

void SavedSelections::copyToLayer() {
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = picture();
  if (!p || p->cutout->selection.isNull()) return;
  scene::Layer copy = scene::duplicate(desk_.session.scene(), *l);
  copy.name = l->name + ", part";
  image::TiledImage mask = p->cutout->selection;
  if (l->mask.acts() && l->mask.coverage.format() == image::PixelFormat::grey8) {
    const base::Rect whole = base::Rect::of(mask.size());
    const auto part = image::read8(l->mask.coverage, 0, whole);
    const auto both = part.ok() ? select::combined(mask, whole, *part, select::Combine::overlap, desk_.session.executor())
                                : base::Result<image::TiledImage>(part.error());
    if (!both.ok()) {
      emit desk_.messages.refused(QString::fromStdString(both.error().text()));
      return;
    }
    mask = *both;
  }
  copy.mask = {};
  copy.mask.coverage = mask;
  const auto at = scene::positionOf(desk_.session.scene(), l->id);
  desk_.session.apply(scene::AddLayer{std::move(copy), at ? at->parent : scene::LayerId{}, at ? at->index + 1 : -1});
}

void SavedSelections::transform(const base::Affine& map, const QString& how) {
  reshapeSelection(
      desk_,
      [map](const image::TiledImage& s, base::Executor& e) -> base::Result<image::TiledImage> {
        // Beyond the picture nothing is selected: what comes in from there is empty.
        HSEAM_TRY(const image::TiledImage moved, render::coverageAs(s, map, s.size(), false, e));
        const base::Size size = s.size();
        select::Outline frame;
        for (const base::Point& c : select::rectangleOutline({0, 0}, {double(size.width), double(size.height)}))
          frame.push_back(map.map(c));
        return select::combined(moved, frame, select::Combine::overlap, e);
      },
      how);
}

}  // namespace hseam::app
