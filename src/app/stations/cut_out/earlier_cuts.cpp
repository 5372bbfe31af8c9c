#include "app/stations/cut_out/earlier_cuts.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <set>

#include "app/widgets/builders.h"
#include "core/matte/unrolled.h"

namespace hseam::app {
namespace {

constexpr int kMost = 30;  // earlier cuts in the list

QString amount(double px) {
  return QObject::tr("%1 px²").arg(px, 0, 'f', px < 10 ? 1 : 0);
}

}  // namespace

EarlierCuts::EarlierCuts(Desk& desk, std::function<std::optional<matte::MarkedStretch>()> mark)
    : Page(desk, {"earlier", tr("Compare with an earlier cut"), tr("What was lost and gained since, and the way back")}),
      mark_(std::move(mark)),
      which_(new QComboBox),
      figures_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(quietLabel(tr("Against the cut in hand. Lost is hatched black, gained white.")));
  which_->setAccessibleName(tr("The earlier cut"));
  which_->setToolTip(tr("Cuts of this layer from the steps done, the newest first, and selections that were kept"));
  connect(which_, &QComboBox::activated, this, [this] { compare(); });
  column->addWidget(which_);
  figures_->setWordWrap(true);
  figures_->setAccessibleName(tr("What was lost and gained"));
  column->addWidget(figures_);
  stretch_ = button(tr("Take the marked stretch back"), tr("The stretch marked on the edge as it was then; nothing else changes"),
                    [this] { takeStretch(); });
  all_ = button(tr("Take all of it back"), tr("The whole cut as it was then; what came between stays in the steps"),
                [this] { takeAll(); });
  column->addWidget(stretch_);
  column->addWidget(all_);
}

// Of the Edit that a step was, by its name in the project; an unknown one may have.
bool EarlierCuts::changesCuts(const std::string& kind) {
  static const std::set<std::string> kinds{"", "SetCut", "SetEdgePlan", "ReplaceSource", "Several"};
  return kinds.contains(kind);
}

const scene::PictureContent* EarlierCuts::picture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

QString EarlierCuts::words() const {
  if (earlier_.empty()) return tr("none yet");
  return earlier_.size() == 1 ? tr("1 earlier") : tr("%1 earlier").arg(earlier_.size());
}

// The cuts of the layer in the steps up to now, each once.
void EarlierCuts::gather() {
  earlier_.clear();
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = picture();
  if (!p || p->cutout->alpha.isNull()) return;
  const auto& history = desk_.session.history();
  std::vector<std::uint64_t> known{p->cutout->outcome().stamp()};
  for (int i = history.current() - 1; i >= 0 && int(earlier_.size()) < kMost; --i) {
    // Only what a step that changes cuts began with can be another cut: strokes and sliders are not read again.
    if (!changesCuts(history.step(i + 1).kind)) continue;
    const auto scene = history.sceneOf(i);
    const scene::Layer* then = scene.ok() ? scene::findLayer(*scene, l->id) : nullptr;
    const auto* q = then ? then->picture() : nullptr;
    if (!q || q->cutout->alpha.isNull() || q->source.stamp() != p->source.stamp()) continue;
    const auto& outcome = q->cutout->outcome();
    if (std::find(known.begin(), known.end(), outcome.stamp()) != known.end()) continue;
    known.push_back(outcome.stamp());
    earlier_.push_back({tr("step %1: %2").arg(i).arg(QString::fromStdString(history.step(i).label)),
                        {outcome, q->cutout->clean, then->mask.byHand()},
                        q->cutout->recipe,
                        false});
  }
  for (const auto& kept : p->cutout->saved)
    earlier_.push_back({tr("kept: %1").arg(QString::fromStdString(kept.name)), {kept.coverage, {}, {}}, {}, true});
}

const EarlierCuts::Earlier* EarlierCuts::chosen() const {
  const int i = which_->currentIndex();
  return i >= 0 && i < int(earlier_.size()) ? &earlier_[std::size_t(i)] : nullptr;
}

void EarlierCuts::refresh() {
  const auto* p = picture();
  gather();
  setEnabled(!earlier_.empty());
  const QString before = which_->currentText();
  QStringList names;
  for (const Earlier& e : earlier_) names << e.name;
  which_->clear();
  which_->addItems(names.isEmpty() ? QStringList{tr("no earlier cut of this layer")} : names);
  which_->setCurrentIndex(std::max(0, int(names.indexOf(before))));
  stretch_->setEnabled(chosen() && mark_());
  all_->setEnabled(chosen() != nullptr);
  if (isVisible() && p) compare();
}

void EarlierCuts::compare() {
  const Earlier* e = chosen();
  const auto* p = picture();
  if (!e || !p) {
    difference_.reset();
    compared_ = {};
    showFigures();
    return;
  }
  const image::TiledImage before = e->cut.alpha, after = p->cutout->outcome();
  if (compared_ == std::pair(before.stamp(), after.stamp())) return;
  compared_ = {before.stamp(), after.stamp()};
  difference_.reset();
  showFigures();
  desk_.aside.ask<base::Result<matte::CutDifference>>(
      QStringLiteral("compare cuts"),
      [before, after] {
        base::InlineExecutor here;
        return matte::cutDifference(before, after, here, {});
      },
      [this](const base::Result<matte::CutDifference>& found) {
        if (!found.ok()) {
          emit desk_.messages.refused(QString::fromStdString(found.error().text()));
          return;
        }
        difference_ = *found;
        showFigures();
        emit changed();
      });
}

void EarlierCuts::showFigures() {
  if (!difference_) {
    figures_->setText(chosen() ? tr("being compared…") : QString());
    return;
  }
  const auto line = [](const QString& what, const matte::LostGained& v) {
    return tr("%1: lost %2, gained %3").arg(what, amount(v.lost), amount(v.gained));
  };
  QStringList lines{line(tr("in all"), difference_->all)};
  const QString kinds[] = {tr("solid edges"), tr("soft edges"), tr("hair")};
  for (std::size_t k = 0; k < 3; ++k) {
    const auto& v = difference_->byKind[k];
    if (v.lost > 0.5 || v.gained > 0.5) lines << line(kinds[k], v);
  }
  figures_->setText(lines.join(QLatin1Char('\n')));
}

void EarlierCuts::takeStretch() {
  const Earlier* e = chosen();
  const scene::Layer* l = desk_.session.activeLayer();
  const auto mark = mark_();
  if (!e || !l || !mark) return;
  const auto* p = l->picture();
  matte::CutPictures then = e->cut;
  if (e->selection) then.mask = then.alpha;
  const matte::CutPictures now{p->cutout->outcome(), p->cutout->clean, l->mask.byHand()};
  desk_.jobs.start<matte::CutPictures>(
      tr("Take a stretch back"),
      [now, then, mark = *mark](base::Executor& executor, const base::Progress&) {
        return matte::stretchTakenBack(now, then, mark, executor);
      },
      [this, from = desk_.session.scene(), id = l->id, before = now.alpha.stamp(), plan = p->cutout->edgePlan,
       recipe = p->cutout->recipe](const matte::CutPictures& t) {
        if (t.alpha.stamp() == before) {
          emit desk_.messages.said(tr("The edge does not pass the marked stretch any more"));
          return;
        }
        // What was shaped is in the picture now: it becomes the cut that further shaping starts from.
        scene::Several all{tr("take a stretch back").toStdString(), {}};
        if (!plan.empty()) all.edits.push_back({scene::SetEdgePlan{id, {}, {}, t.mask, "taken back"}});
        all.edits.push_back({scene::SetCut{id, t.alpha, t.clean, t.mask, recipe, {}}});
        desk_.session.applyResult(all, from);
      });
}

void EarlierCuts::takeAll() {
  const Earlier* e = chosen();
  const scene::Layer* l = desk_.session.activeLayer();
  if (!e || !l) return;
  const auto& cutout = *l->picture()->cutout;
  scene::Several all{tr("take an earlier cut back").toStdString(), {}};
  const image::TiledImage mask = e->selection || e->cut.mask.isNull() ? e->cut.alpha : e->cut.mask;
  if (!cutout.edgePlan.empty()) all.edits.push_back({scene::SetEdgePlan{l->id, {}, {}, mask, "taken back"}});
  all.edits.push_back({scene::SetCut{
      l->id, e->cut.alpha, e->selection ? cutout.clean : e->cut.clean, mask, e->selection ? cutout.recipe : e->recipe, {}}});
  desk_.session.apply(all);
}

void EarlierCuts::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  if (difference_) overlay_.paint(painter, difference_->where, toWidget, widget, LabelOverlay::Style::changes);
}

}  // namespace hseam::app
