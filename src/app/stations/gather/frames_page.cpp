#include "app/stations/gather/frames_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <cmath>

#include "app/document/workspace.h"
#include "app/widgets/builders.h"
#include "app/widgets/raster_image.h"
#include "app/widgets/value_field.h"
#include "core/frames/homography.h"
#include "core/sets/doubled.h"

namespace hseam::app {
namespace {

QString fitWords(const scene::SetFrame& f, bool base, base::Size size) {
  if (base) return QObject::tr("the base: all others lie on it");
  if (!f.unfit.empty()) return QObject::tr("does not fit: %1").arg(QString::fromStdString(f.unfit));
  const frames::Drift d = frames::driftOf({f.toBase}, size);
  const QLocale l;
  return QObject::tr("shifted %1 px, exact to %2 px, %3 stop")
      .arg(l.toString(std::hypot(d.dx, d.dy), 'f', 1), l.toString(f.residualPx, 'f', 2),
           (f.gainStops >= 0 ? QStringLiteral("+") : QString()) + l.toString(f.gainStops, 'f', 2));
}

}  // namespace

FramesPage::FramesPage(Desk& desk, FrameWork& work)
    : Page(desk, {"frames", tr("Frames of one place"),
                  tr("Pictures from a tripod are brought onto one another to a hundredth of a pixel, in one light")}),
      work_(work),
      list_(new QListWidget),
      told_(quietLabel({})) {
  auto* c = column();
  c->addWidget(
      quietLabel(tr("The active picture is the base. Add others of the same place; what moved in them does not count.")));
  add_ = button(tr("Add frames…"), tr("Choose pictures of the same place, from the same standpoint"), [this] { choose(); });
  c->addWidget(add_);
  list_->setAccessibleName(tr("Frames"));
  list_->setToolTip(tr("Ticked frames may give to the picture. One that does not lie on the base is left out until you tick it"));
  list_->setFixedHeight(150);
  list_->setWordWrap(true);
  c->addWidget(list_);
  c->addWidget(told_);
  base_ = button(tr("Make it the base"), tr("The chosen frame becomes the one that the others lie on"),
                 [this] { work_.makeBase(chosen()); });
  out_ = button(tr("Take it out"), tr("The chosen frame goes from the set; undo brings it back"),
                [this] { work_.takeOut(chosen()); });
  c->addWidget(rowOf({base_, out_}));
  layers_ =
      button(tr("Turn into layers"), tr("A layer with a mask for each frame, to go on by hand; the picture itself is hidden"),
             [this] { work_.makeLayers(); });
  settle_ = button(tr("Let the frames go"), tr("The picture stays as it is now, and its frames go from the scene"),
                   [this] { work_.settle(); });
  c->addWidget(rowOf({layers_, settle_}));
  doubles_ = new QCheckBox(tr("lay the chosen frame over the base"));
  doubles_->setToolTip(tr("Where they lie on one another it is grey; a red edge beside a blue one is one edge seen twice"));
  connect(doubles_, &QCheckBox::toggled, this, [this] {
    askDoubled();
    refresh();
    emit changed();
  });
  c->addWidget(doubles_);
  step_ = new ValueField(tr("an arrow moves it"), {0.05, 10, 0.5, 2, tr("px")},
                         tr("The arrow keys move the chosen frame on the base by this; dragging moves it freely"));
  connect(step_, &ValueField::changed, this, [this](double v) { nudge_.step = v; });
  c->addWidget(step_);
  nudge_.step = step_->value();
  nudge_.moved = [this](double dx, double dy) { work_.nudge(chosen(), dx, dy); };
  nudge_.words = [this] { return tr("drag or arrow keys: frame %1 is moved on the base").arg(chosen() + 1); };
  connect(&work_, &FrameWork::changed, this, [this] {
    askDoubled();
    refresh();
    emit changed();
  });
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    askDoubled();
    refresh();
    emit changed();
  });
  connect(list_, &QListWidget::itemChanged, this,
          [this](QListWidgetItem* item) { work_.use(std::size_t(list_->row(item)), item->checkState() == Qt::Checked); });
  refresh();
}

void FramesPage::choose() {
  work_.add(QFileDialog::getOpenFileNames(this, tr("Frames of the same place"), {}, Workspace::picturesFilter()));
}

std::size_t FramesPage::chosen() const {
  return std::size_t(std::max(0, list_->currentRow()));
}

void FramesPage::refresh() {
  const scene::FrameSet* set = work_.set();
  const int count = set ? int(set->frames.size()) : 0;
  {
    const QSignalBlocker quiet(list_);
    while (list_->count() > count) delete list_->takeItem(list_->count() - 1);
    while (list_->count() < count) list_->addItem(new QListWidgetItem);
    for (int i = 0; i < count; ++i) {
      const scene::SetFrame& f = set->frames[std::size_t(i)];
      QListWidgetItem* item = list_->item(i);
      item->setText(
          QStringLiteral("%1  %2\n%3").arg(i + 1).arg(QString::fromStdString(f.name), fitWords(f, i == 0, f.picture.size())));
      item->setFlags(i == 0 ? Qt::ItemIsEnabled | Qt::ItemIsSelectable
                            : Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
      item->setCheckState(i == 0 || f.used ? Qt::Checked : Qt::Unchecked);
    }
    if (count > 0 && list_->currentRow() < 0) list_->setCurrentRow(0);
  }
  list_->setVisible(count > 0);
  told_->setVisible(count > 0);
  told_->setText(work_.busy() ? tr("Being worked out…")
                              : tr("Next: say below which place comes from which frame, or what each lamp gives."));
  const bool other = count > 0 && chosen() > 0 && !work_.busy();
  add_->setEnabled(activePicture() && !activePicture()->byHand);
  base_->setEnabled(other);
  out_->setEnabled(other);
  layers_->setEnabled(set && !set->labels.isNull() && !work_.busy());
  settle_->setEnabled(set && !work_.busy());
  doubles_->setVisible(count > 0);
  doubles_->setEnabled(count > 0 && chosen() > 0);
  step_->setVisible(doublesShown());
}

bool FramesPage::doublesShown() const {
  return doubles_->isChecked() && work_.set() && chosen() > 0;
}

void FramesPage::askDoubled() {
  constexpr double kPixels = 2e6;
  doubled_ = {};
  if (!doublesShown()) return;
  desk_.aside.ask<QImage>(
      QStringLiteral("doubled"),
      [set = *work_.set(), frame = chosen()]() -> QImage {
        const auto made = sets::doubled(set, frame, kPixels);
        return made.ok() ? imageOf(*made) : QImage();
      },
      [this](const QImage& image) {
        doubled_ = image;
        emit changed();
      });
}

void FramesPage::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  const auto* p = activePicture();
  if (!doublesShown() || doubled_.isNull() || !p) return;
  painter.save();
  painter.setTransform(toWidget, true);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawImage(QRectF(0, 0, p->source.size().width, p->source.size().height), doubled_);
  painter.restore();
}

QString FramesPage::words() const {
  const scene::FrameSet* set = work_.set();
  return set ? tr("%1 frames").arg(set->frames.size()) : QString();
}

// The picture alone, in its own pixels.
void FramesPage::changeView(View& view) const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!work_.set() || !l) return;
  view.onlyLayer = l->id;
  view.uncut = true;
}

PicksPage::PicksPage(Desk& desk, FrameWork& work)
    : Page(desk, {"picks", tr("Pick places from frames"),
                  tr("A stroke over somebody takes them whole from the chosen frame; the seam runs where the frames agree")}),
      work_(work),
      brush_(
          desk.session, desk.messages, [this] { return target(); },
          [this] { return tr("left: this place from frame %1; right: give it free").arg(chosen()); }),
      from_(new QComboBox) {
  auto* c = column();
  c->addWidget(
      quietLabel(tr("Choose a frame and stroke over what is to come from it. What you stroke over is kept exactly; the seams "
                    "find their own way.")));
  from_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  from_->setAccessibleName(tr("Frame that strokes take from"));
  from_->setObjectName(QStringLiteral("pickFrom"));
  from_->setToolTip(tr("Strokes with the left button take from this frame"));
  c->addWidget(namedRow(tr("from"), from_));
  size_ =
      new ValueField(tr("stroke"), {4, 200, 24, 0, QStringLiteral("px")}, tr("Width of the stroke on the screen (Alt+wheel)"));
  c->addWidget(size_);
  forget_ =
      button(tr("Forget all picks"), tr("Nothing is picked: all of the picture is the base's"), [this] { work_.setPicks({}); });
  c->addWidget(forget_);
  places_ = new Places({tr("In one place things of several frames meet: one of them is in front."),
                        tr("In %1 places things of several frames meet: one of them is in front."),
                        tr("Shows the next of these places (Ctrl+J)")});
  connect(places_, &Places::asked, this, [this](const QRectF& place) {
    showOverlap();
    emit placeAsked(place);
  });
  c->addWidget(places_);
  overlap_ = quietLabel({});
  overlap_->setAccessibleName(tr("Who is in front here"));
  c->addWidget(overlap_);
  inFront_ = new QVBoxLayout;
  inFront_->setContentsMargins(0, 0, 0, 0);
  c->addLayout(inFront_);
  brush_.onScreen = true;
  brush_.tip.sizePx = size_->value();
  brush_.tip.hardness = 1;
  brush_.pressure = paint::Pressure::none;
  brush_.tipChanged = [this] { size_->setValue(brush_.tip.sizePx); };
  brush_.handOver = [this](const image::TiledImage& picks) { work_.setPicks(picks); };
  connect(size_, &ValueField::changed, this, [this](double v) {
    brush_.tip.sizePx = v;
    emit changed();
  });
  connect(from_, &QComboBox::currentIndexChanged, this, [this] { emit changed(); });
  connect(&work_, &FrameWork::changed, this, [this] {
    refresh();
    emit changed();
  });
  refresh();
}

std::uint8_t PicksPage::chosen() const {
  return std::uint8_t(from_->currentIndex() < 0 ? 1 : from_->currentData().toInt());
}

void PicksPage::refresh() {
  const scene::FrameSet* set = work_.set();
  {
    const QSignalBlocker quiet(from_);
    const int before = from_->currentIndex() < 0 ? 2 : int(chosen());
    from_->clear();
    for (std::size_t i = 0; set && i < set->frames.size(); ++i) {
      if (i > 0 && !set->frames[i].used) continue;
      from_->addItem(QStringLiteral("%1  %2").arg(i + 1).arg(QString::fromStdString(set->frames[i].name)), int(i + 1));
    }
    from_->setCurrentIndex(std::max(0, from_->findData(before)));
  }
  from_->setEnabled(set);
  size_->setEnabled(set);
  forget_->setEnabled(set && !set->picks.isNull());
  lookForOverlaps();
}

// Once the frames are set together: where things of several of them stand.
void PicksPage::lookForOverlaps() {
  const scene::FrameSet* set = work_.set();
  const std::uint64_t of = set && !work_.busy() ? set->labels.stamp() : 0;
  if (of == overlapsOf_) return;
  overlapsOf_ = of;
  overlaps_.clear();
  places_->set({});
  showOverlap();
  if (of == 0 || set->labels.isNull() || set->way != scene::FrameSet::Way::picked) return;
  desk_.aside.ask<std::vector<frames::Overlap>>(
      QStringLiteral("overlaps"),
      [set = *set, laid = work_.laid()]() -> std::vector<frames::Overlap> {
        base::InlineExecutor here;
        const auto frames = laid->of(set, here, {});
        if (!frames.ok()) return {};
        auto found = frames::overlapsOf(*frames, set.labels, here);
        return found.ok() ? std::move(found).value() : std::vector<frames::Overlap>();
      },
      [this, of](const std::vector<frames::Overlap>& found) {
        if (of != overlapsOf_) return;
        overlaps_ = found;
        std::vector<base::Rect> where;
        for (const frames::Overlap& o : overlaps_) where.push_back(o.where);
        places_->set(std::move(where));
        showOverlap();
      });
}

void PicksPage::showOverlap() {
  emptyLayout(*inFront_);
  const int at = places_->current();
  const bool any = at >= 0 && at < int(overlaps_.size());
  overlap_->setVisible(any);
  if (!any) return;
  const frames::Overlap& o = overlaps_[std::size_t(at)];
  overlap_->setText(tr("Here frame %1 is in front.").arg(o.inFront + 1));
  for (const std::size_t f : o.frames) {
    if (f == o.inFront) continue;
    inFront_->addWidget(button(tr("Put frame %1 in front").arg(f + 1),
                               tr("What it shows here comes whole, before what the others show; a step like any other"),
                               [this, f] { putInFront(f); }));
  }
}

void PicksPage::putInFront(std::size_t frame) {
  const scene::FrameSet* set = work_.set();
  const int at = places_->current();
  if (!set || at < 0 || at >= int(overlaps_.size())) return;
  auto picks = frames::broughtToFront(set->picks, set->frames[0].picture.size(), overlaps_[std::size_t(at)], frame,
                                      desk_.session.memory(), desk_.session.executor());
  if (picks.ok()) work_.setPicks(*picks);
}

QString PicksPage::words() const {
  const scene::FrameSet* set = work_.set();
  if (!set) return tr("no frames yet");
  return set->picks.isNull() ? tr("nothing picked") : tr("picked");
}

void PicksPage::changeView(View& view) const {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!work_.set() || !l) return;
  view.onlyLayer = l->id;
  view.uncut = true;
}

std::optional<Brush::Target> PicksPage::target() const {
  const scene::FrameSet* set = work_.set();
  const auto* p = activePicture();
  if (!set || !p) {
    emit desk_.messages.said(tr("Add frames of the same place first, on the page above"));
    return std::nullopt;
  }
  Brush::Target t;
  t.picture = set->picks.isNull() ? image::uniformCoverage(p->source.size(), 0, desk_.session.memory()) : set->picks;
  t.left = chosen();
  t.right = 0;
  t.flat = true;
  t.edit = [id = desk_.session.active(), set = *set, source = p->source](const image::TiledImage& painted) {
    scene::FrameSet drawn = set;
    drawn.picks = painted;
    return scene::SetFrames{id, std::make_shared<const scene::FrameSet>(std::move(drawn)), source, "picked"};
  };
  return t;
}

void PicksPage::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  // While a stroke is drawn the draft has it, afterwards the wish.
  const scene::FrameSet* wish = work_.set();
  if (!wish) return;
  const auto* shown = shownPicture();
  const bool drawing = shown && shown->frames && activePicture() && shown->frames != activePicture()->frames;
  seamOverlay_.paint(painter, wish->labels, toWidget, widget, LabelOverlay::Style::seams);
  pickOverlay_.paint(painter, drawing ? shown->frames->picks : wish->picks, toWidget, widget, LabelOverlay::Style::frames);
}

}  // namespace hseam::app
