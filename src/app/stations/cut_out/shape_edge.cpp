#include "app/stations/cut_out/shape_edge.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/widgets/builders.h"
#include "core/matte/edge_shape.h"

namespace hseam::app {
namespace {

using matte::EdgeKind;

QString edgeWord(EdgeKind kind) {
  constexpr const char* kWords[] = {QT_TR_NOOP("solid"), QT_TR_NOOP("soft"), QT_TR_NOOP("hair")};
  return QObject::tr(kWords[std::size_t(kind)]);
}

struct Laid {
  std::shared_ptr<const matte::Unrolled> outline;
  std::vector<matte::EdgeReading> forms;
};

}  // namespace

ShapeEdge::ShapeEdge(Desk& desk)
    : Page(desk, {"shape", tr("Mark and shape the edge"), tr("Solve stretches as another kind; move, soften, round the edge")}),
      tool_([this] { return outline_; }, [this](int first, int count) { placeMarked(first, count); },
            [this] { return outline_ ? tr("drag along the edge to mark it") : tr("solve the edge first; then mark it"); }),
      marked_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(quietLabel(tr("Drag along the edge, here or along the kinds in the ribbon, to mark a stretch.")));
  marked_->setAccessibleName(tr("The marked stretch"));
  marked_->setWordWrap(true);
  column->addWidget(marked_);
  for (const EdgeKind k : {EdgeKind::hair, EdgeKind::soft, EdgeKind::solid}) {
    constexpr const char* kTips[] = {QT_TR_NOOP("A crisp edge, found to a fraction of a pixel from the colours on both sides"),
                                     QT_TR_NOOP("A blurred but even edge: solved in a band as wide as its blur"),
                                     QT_TR_NOOP("Strands: solved in a band that reaches over them")};
    forMark_ << button(tr("as %1").arg(edgeWord(k)), tr(kTips[std::size_t(k)]), [this, k] { solveAs(k); });
    forMark_.last()->setAccessibleName(tr("Solve the marked stretch as %1").arg(edgeWord(k)));
  }
  column->addWidget(quietLabel(tr("Solve the marked stretch")));
  column->addWidget(rowOf({forMark_[0], forMark_[1], forMark_[2]}));
  reach_ = new ValueField(tr("strands"), {10, 200, 64, 0, tr("px"), false},
                          tr("How far strands reach out of the marked stretch, for solving it as hair"));
  column->addWidget(reach_);
  where_ = new QComboBox;
  where_->addItems({tr("the whole edge"), tr("its solid parts"), tr("its soft parts"), tr("its hair"), tr("the marked stretch")});
  where_->setAccessibleName(tr("Which part of the edge is shaped"));
  where_->setToolTip(tr("What the four fields below act on. A marked stretch has its own values, whatever its kind"));
  connect(where_, &QComboBox::activated, this, [this] { show(plan()); });
  column->addWidget(quietLabel(tr("Shape")));
  column->addWidget(where_);
  offset_ = new ValueField(tr("outwards"), {-12, 12, 0, 2, tr("px"), true},
                           tr("Moves the edge out, or in below 0; parts of a pixel count"));
  width_ = new ValueField(tr("width"), {10, 400, 100, 0, tr("%"), false},
                          tr("Of the way from subject to nothing: below 100 crisper, above softer"));
  tail_ = new ValueField(tr("tail"), {-100, 100, 0, 0, tr("%"), true}, tr("Above 0 faint ends become stronger, below 0 weaker"));
  round_ =
      new ValueField(tr("rounder"), {0, 60, 0, 0, tr("px"), true}, tr("Evens out bumps of the outline up to about this long"));
  for (ValueField* f : {offset_, width_, tail_, round_}) {
    connect(f, &ValueField::changing, this, [this] { shape(false); });
    connect(f, &ValueField::changed, this, [this] { shape(true); });
    column->addWidget(f);
  }
  column->addWidget(
      rowOf({button(tr("As crisp as its crispest"),
                    tr("Makes a blurred edge as crisp as the crispest twentieth of this cut's edge"), [this] { asCrisp(); }),
             button(tr("As solved"), tr("Back to what was solved, for the part chosen above"),
                    [this] { propose(planWith({}), tr("edge as solved"), true); })}));
  specks_ = new ValueField(tr("specks"), {0, 400, 0, 0, tr("px²"), true}, tr("Islands and pinholes up to this area go"));
  const auto specks = [this](bool keep) {
    matte::EdgePlan p = plan();
    p.specksPx = int(specks_->value());
    propose(p, tr("specks"), keep);
  };
  connect(specks_, &ValueField::changing, this, [specks] { specks(false); });
  connect(specks_, &ValueField::changed, this, [specks] { specks(true); });
  column->addWidget(specks_);
  forMark_ << button(tr("Forget this mark"), tr("Takes the mark and its shape away; what was solved there stays"),
                     [this] { forgetMark(); });
  column->addWidget(forMark_.last());
  showMark();
}

ShapeEdge::Where ShapeEdge::where() const {
  return Where(where_->currentIndex());
}

const matte::EdgePlan& ShapeEdge::plan() const {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  const std::string text = p ? p->cutout->edgePlan : std::string();
  if (text != planOf_) {
    auto read = matte::edgePlanFrom(text);
    plan_ = read.ok() ? std::move(read).value() : matte::EdgePlan{};
    planOf_ = text;
  }
  return plan_;
}

const matte::MarkedStretch* ShapeEdge::knownMark() const {
  if (!mark_) return nullptr;
  const auto& all = plan().stretches;
  const auto at = std::find_if(all.begin(), all.end(), [&](const matte::MarkedStretch& s) { return s.along == mark_->along; });
  return at != all.end() ? &*at : nullptr;
}

QString ShapeEdge::words() const {
  const matte::EdgePlan& p = plan();
  if (p.neutral()) return tr("as solved");
  if (p.stretches.empty()) return tr("shaped");
  return p.stretches.size() == 1 ? tr("1 stretch") : tr("%1 stretches").arg(p.stretches.size());
}

void ShapeEdge::refresh() {
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if ((l ? l->id : scene::LayerId{}) != layer_) {
    layer_ = l ? l->id : scene::LayerId{};
    mark_.reset();
  }
  setEnabled(p && !p->cutout->alpha.isNull());
  show(plan());
  if (isVisible()) findOutline();
}

// The outline of the solved alpha, worked out only when it is looked at.
void ShapeEdge::findOutline() {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  const image::TiledImage alpha = p ? p->cutout->alpha : image::TiledImage();
  if (alpha.stamp() == outlineOf_) return;
  outlineOf_ = alpha.stamp();
  outline_.reset();
  showMark();
  if (alpha.isNull()) return;
  desk_.aside.ask<Laid>(
      QStringLiteral("edge outline"),
      [alpha]() -> Laid {
        auto made = matte::unrolled(alpha);
        if (!made.ok()) return {};
        auto forms = matte::edgeForms(*made, 0, int(made->places.size()), alpha);
        if (!forms.ok()) return {};
        return {std::make_shared<const matte::Unrolled>(std::move(made).value()), std::move(forms).value()};
      },
      [this](const Laid& laid) {
        outline_ = laid.outline;
        forms_ = laid.forms;
        showMark();
        emit changed();
      });
}

void ShapeEdge::placeMarked(int first, int count) {
  if (!outline_) return;
  // A click takes the mark in hand that is there, or none.
  constexpr int kClick = 6;
  if (count < kClick) {
    const matte::EdgePlan p = plan();
    const auto at = matte::stretchAt(p, *outline_, first, 1);
    mark_ = at ? std::optional(p.stretches[*at]) : std::nullopt;
    if (!mark_ && where() == kMarked) where_->setCurrentIndex(kWhole);
    if (mark_) where_->setCurrentIndex(kMarked);
    show(p);
    emit changed();
    return;
  }
  take(matte::markedFrom(*outline_, first, count));
}

void ShapeEdge::take(const matte::MarkedStretch& mark) {
  mark_ = matte::MarkedStretch{mark.along, {}, {}};
  where_->setCurrentIndex(kMarked);
  show(plan());
  emit changed();
}

void ShapeEdge::forgetMark() {
  if (!mark_) return;
  matte::EdgePlan p = plan();
  const bool known = std::erase_if(p.stretches, [&](const matte::MarkedStretch& s) { return s.along == mark_->along; }) > 0;
  mark_.reset();
  where_->setCurrentIndex(kWhole);
  if (known) propose(p, tr("mark taken away"), true);
  show(p);
  emit changed();
}

void ShapeEdge::solveAs(EdgeKind kind) {
  if (mark_) solveStretch(desk_, *mark_, kind, kind == EdgeKind::hair ? reach_->value() : 0);
}

matte::EdgeShape ShapeEdge::shapeHere() const {
  return {offset_->value(), width_->value() / 100, tail_->value() / 100, round_->value()};
}

matte::EdgePlan ShapeEdge::planWith(const matte::EdgeShape& shape) const {
  matte::EdgePlan p = plan();
  if (where() == kMarked && mark_) {
    auto& entry = matte::entryOf(p, *mark_);
    entry.shape = shape == matte::EdgeShape{} ? std::nullopt : std::optional(shape);
    std::erase_if(p.stretches, [](const matte::MarkedStretch& s) { return !s.kind && !s.shape; });
  } else if (where() == kWhole) {
    p.byKind = {shape, shape, shape};
  } else if (where() != kMarked) {
    p.byKind[std::size_t(where() - kSolid)] = shape;
  }
  return p;
}

void ShapeEdge::shape(bool keep) {
  propose(planWith(shapeHere()), tr("shape the edge"), keep);
}

void ShapeEdge::asCrisp() {
  const auto* p = desk_.session.activeLayer() ? desk_.session.activeLayer()->picture() : nullptr;
  if (!p || !outline_) return;
  int first = 0, count = int(outline_->places.size());
  if (where() == kMarked && mark_) {
    const auto on = matte::placesOn(*outline_, *mark_);
    const auto at = std::find(on.begin(), on.end(), true);
    first = int(at - on.begin());
    count = int(std::find(at, on.end(), false) - at);
  }
  const auto factor = matte::widthAsCrispAs(*outline_, first, count, p->cutout->alpha);
  if (!factor.ok()) return;
  matte::EdgeShape s = shapeHere();
  s.width = *factor;
  propose(planWith(s), tr("crisper edge"), true);
}

// Works the shaped alpha and the mask out beside the window; keep: as a step, else as a draft.
void ShapeEdge::propose(const matte::EdgePlan& plan, const QString& how, bool keep) {
  const scene::Layer* l = desk_.session.activeLayer();
  const auto* p = l ? l->picture() : nullptr;
  if (!p || p->cutout->alpha.isNull()) return;
  using Result = base::Result<matte::Shaping>;
  desk_.aside.ask<Result>(
      QStringLiteral("shape the edge"),
      [alpha = p->cutout->alpha, before = p->cutout->outcome(), mask = l->mask.byHand(), plan]() -> Result {
        base::InlineExecutor here;
        return matte::shaping(alpha, plan, before, mask, here, {});
      },
      [this, keep, how, text = matte::toText(plan), id = l->id](const Result& shaped) {
        if (!shaped.ok()) {
          emit desk_.messages.refused(QString::fromStdString(shaped.error().text()));
          return;
        }
        const scene::SetEdgePlan edit{id, text, shaped->shaped, shaped->mask, how.toStdString()};
        keep ? static_cast<void>(desk_.session.apply(edit)) : desk_.session.draft(edit);
      });
}

void ShapeEdge::show(const matte::EdgePlan& plan) {
  matte::EdgeShape s = plan.byKind[where() == kSoft ? 1 : (where() == kHair ? 2 : 0)];
  if (where() == kMarked && mark_) {
    const matte::MarkedStretch* known = knownMark();
    s = known && known->shape ? *known->shape : matte::EdgeShape{};
  }
  offset_->setValue(s.offsetPx);
  width_->setValue(100 * s.width);
  tail_->setValue(100 * s.tail);
  round_->setValue(s.roundPx);
  specks_->setValue(plan.specksPx);
  showMark();
}

void ShapeEdge::showMark() {
  for (QPushButton* b : forMark_) b->setEnabled(mark_.has_value());
  reach_->setEnabled(mark_.has_value());
  if (!mark_) {
    marked_->setText(outlineOf_ != 0 && !outline_ ? tr("laying out the edge…") : tr("nothing marked"));
    return;
  }
  const matte::MarkedStretch* known = knownMark();
  QString kind;
  if (known && known->kind) kind = tr("solved as %1").arg(edgeWord(*known->kind));
  if (kind.isEmpty() && outline_) {
    const auto on = matte::placesOn(*outline_, *mark_);
    std::array<int, 3> count{};
    double sure = 0;
    int n = 0;
    for (std::size_t i = 0; i < on.size() && i < forms_.size(); ++i) {
      if (!on[i]) continue;
      ++count[std::size_t(forms_[i].kind)];
      sure += double(forms_[i].confidence);
      ++n;
    }
    const auto most = std::max_element(count.begin(), count.end());
    if (n > 0)
      kind = tr("read as %1, %2 % sure").arg(edgeWord(EdgeKind(most - count.begin()))).arg(int(std::lround(100 * sure / n)));
  }
  const int length = int(mark_->along.size() > 0 ? (mark_->along.size() - 1) * std::size_t(matte::kMarkStep) : 0);
  marked_->setText(tr("about %1 px marked, %2").arg(length).arg(kind));
}

void ShapeEdge::paintOver(QPainter& painter, const QTransform& toWidget, const QRect&) {
  for (const matte::MarkedStretch& s : plan().stretches) {
    if (!mark_ || s.along != mark_->along) drawMark(painter, toWidget, s, false);
  }
  if (mark_) drawMark(painter, toWidget, *mark_, true);
}

}  // namespace hseam::app
