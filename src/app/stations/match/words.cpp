#include "app/stations/match/words.h"

#include <QColorDialog>
#include <QComboBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/path/edit.h"
#include "core/scene/set_words.h"

namespace hseam::app {
namespace {

using text::Lettering;

}  // namespace

Words::Words(Desk& desk)
    : Page(desk, {"words", tr("Words"), tr("Titles and captions that stay words")}),
      tool_([this](QPointF by, bool keep) {
        if (by.isNull()) {
          desk_.session.draft(std::nullopt);
          return;
        }
        edit(
            [by](Lettering& t) {
              t.at = {t.at.x + by.x(), t.at.y + by.y()};
              if (t.along)
                t.along = std::make_shared<const path::Path>(path::mapped(*t.along, base::Affine{1, 0, 0, 1, by.x(), by.y()}));
            },
            keep);
      }),
      page_(new QWidget),
      words_(new QPlainTextEdit),
      family_(new QComboBox),
      style_(new QComboBox),
      align_(new QComboBox),
      told_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(
      button(tr("Add words"), tr("A title or a caption as a layer of its own; it stays changeable"), [this] { add(); }));
  auto* rest = new QVBoxLayout(page_);
  rest->setContentsMargins(0, 0, 0, 0);
  rest->setSpacing(6);
  words_->setFixedHeight(64);
  words_->setTabChangesFocus(true);
  words_->setAccessibleName(tr("Words"));
  words_->setToolTip(tr("What stands there; Return begins a new line"));
  connect(words_, &QPlainTextEdit::textChanged, this,
          [this] { edit([this](Lettering& t) { t.words = words_->toPlainText().toStdString(); }, true); });
  rest->addWidget(words_);
  QStringList families;
  for (const auto& f : text::typefaces()) families << QString::fromStdString(f.family);
  families.removeDuplicates();
  family_->addItems(families);
  family_->setAccessibleName(tr("Typeface"));
  family_->setToolTip(tr("The typefaces that came with the program and those of this system"));
  style_->setAccessibleName(tr("Weight and slant"));
  style_->setToolTip(tr("As the typeface offers them"));
  connect(family_, &QComboBox::activated, this, [this] {
    showStyles(family_->currentText());
    edit(
        [this](Lettering& t) {
          t.family = family_->currentText().toStdString();
          t.style = style_->currentText().toStdString();
        },
        true);
  });
  connect(style_, &QComboBox::activated, this,
          [this] { edit([this](Lettering& t) { t.style = style_->currentText().toStdString(); }, true); });
  rest->addWidget(rowOf({family_, style_}));
  size_ = field(tr("size"), {2, 2000, 160, 0, tr("px"), false}, tr("Of the em square, px of the canvas"), &Lettering::sizePx);
  tracking_ = field(tr("tracking"), {-200, 1000, 0, 0, {}, true}, tr("Room after every letter, thousandths of the size"),
                    &Lettering::tracking);
  leading_ = field(tr("leading"), {0.5, 4, 1.2, 2, {}, true}, tr("From line to line, times the size"), &Lettering::leading);
  for (ValueField* f : {size_, tracking_, leading_}) rest->addWidget(f);
  align_->addItems({tr("from the left"), tr("centred"), tr("to the right")});
  align_->setAccessibleName(tr("How lines are aligned"));
  align_->setToolTip(tr("About the place where the words stand, or along their line"));
  connect(align_, &QComboBox::activated, this,
          [this](int i) { edit([i](Lettering& t) { t.align = Lettering::Align(i); }, true); });
  colour_ = button(tr("Colour…"), tr("Asks for the colour of the words"), [this] {
    const scene::Layer* l = desk_.session.activeLayer();
    const auto* solid = l && l->fill() ? std::get_if<scene::SolidFill>(&l->fill()->fill) : nullptr;
    if (!solid) return;
    const auto& now = solid->colour;
    const QColor c = QColorDialog::getColor(QColor::fromRgbF(float(now[0]), float(now[1]), float(now[2])), this, tr("Colour"));
    if (!c.isValid()) return;
    scene::FillContent next = *l->fill();
    next.fill = scene::SolidFill{{c.redF(), c.greenF(), c.blueF()}};
    desk_.session.apply(scene::SetFill{l->id, next, l->mask});
  });
  rest->addWidget(rowOf({align_, colour_}));
  along_ = button(
      tr("Along a path"), tr("The words follow the path of the picture layer that has one, or stand straight again"), [this] {
        if (!active()) return;
        if (active()->along) {
          edit([](Lettering& t) { t.along = nullptr; }, true);
          return;
        }
        for (const auto& l : scene::allLayers(desk_.session.scene())) {
          const auto* p = l->picture();
          if (!p || !l->mask.path || l->mask.path->empty()) continue;
          edit(
              [&](Lettering& t) {
                t.along = std::make_shared<const path::Path>(path::mapped(*l->mask.path, p->placement.toScene(p->source.size())));
              },
              true);
          return;
        }
        emit desk_.messages.said(tr("No picture has a path yet: draw one in Cut out"));
      });
  rest->addWidget(along_);
  rest->addWidget(told_);
  column->addWidget(page_);
}

ValueField* Words::field(const QString& name, const ValueField::Range& range, const QString& tip, double Lettering::*member) {
  auto* f = new ValueField(name, range, tip);
  const auto set = [this, member](double v, bool keep) { edit([member, v](Lettering& t) { t.*member = v; }, keep); };
  connect(f, &ValueField::changing, this, [set](double v) { set(v, false); });
  connect(f, &ValueField::changed, this, [set](double v) { set(v, true); });
  return f;
}

const Lettering* Words::active() const {
  const auto* f = desk_.session.activeLayer() ? desk_.session.activeLayer()->fill() : nullptr;
  return f ? f->lettering.get() : nullptr;
}

void Words::add() {
  const base::Size canvas = desk_.session.scene().canvas;
  Lettering t;
  t.words = tr("Title").toStdString();
  t.sizePx = std::max(2.0, canvas.height * 0.08);
  t.at = {canvas.width / 2.0, canvas.height * 0.16};
  scene::Layer l;
  l.id = scene::freeId(desk_.session.scene());
  l.name = "words";
  l.content = scene::FillContent{scene::SolidFill{{0.95, 0.93, 0.88}}, nullptr, nullptr};
  auto set = scene::setWords(l, t, nullptr, canvas, desk_.session.memory());
  if (!set.ok()) {
    emit desk_.messages.refused(QString::fromStdString(set.error().text()));
    return;
  }
  l.content = std::move(set->edit.fill);
  l.mask = std::move(set->edit.mask);
  desk_.session.apply(scene::AddLayer{std::move(l), {}, -1});
  refresh();  // they stand in the field now
  words_->setFocus();
  words_->selectAll();
}

void Words::edit(const std::function<void(Lettering&)>& change, bool keep) {
  const scene::Layer* l = desk_.session.activeLayer();
  if (!active()) return;
  Lettering next = *active();
  change(next);
  if (next == *active()) {
    desk_.session.draft(std::nullopt);
    return;
  }
  auto set = scene::setWords(*l, next, l->fill()->bend, desk_.session.scene().canvas, desk_.session.memory());
  if (!set.ok()) {
    emit desk_.messages.refused(QString::fromStdString(set.error().text()));
    return;
  }
  const scene::SetFill made = std::move(set->edit);
  QStringList told;
  if (set->otherTypeface) told << tr("%1 is not on this system: another stands in.").arg(QString::fromStdString(next.family));
  if (!set->missing.empty()) told << tr("The typeface has no shape for: %1").arg(QString::fromStdString(set->missing));
  told_->setText(told.join(QLatin1Char(' ')));
  told_->setVisible(!told.isEmpty());
  if (keep) {
    desk_.session.apply(made);
  } else {
    desk_.session.draft(made);
  }
}

void Words::showStyles(const QString& family) {
  const QSignalBlocker quiet(style_);
  const QString was = style_->currentText();
  style_->clear();
  for (const auto& f : text::typefaces()) {
    if (QString::fromStdString(f.family) == family) style_->addItem(QString::fromStdString(f.style));
  }
  style_->setCurrentIndex(std::max(0, style_->findText(was)));
}

QString Words::words() const {
  return active() ? QString::fromStdString(active()->words).section(QLatin1Char('\n'), 0, 0).left(18) : tr("none chosen");
}

void Words::refresh() {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  const Lettering* t = l && l->fill() ? l->fill()->lettering.get() : nullptr;
  page_->setVisible(t);
  if (!t) return;
  const QString words = QString::fromStdString(t->words);
  if (words_->toPlainText() != words) {
    const QSignalBlocker quiet(words_);
    words_->setPlainText(words);
  }
  family_->setCurrentIndex(family_->findText(QString::fromStdString(t->family)));
  showStyles(QString::fromStdString(t->family));
  style_->setCurrentIndex(style_->findText(QString::fromStdString(t->style)));
  size_->setValue(t->sizePx);
  tracking_->setValue(t->tracking);
  leading_->setValue(t->leading);
  align_->setCurrentIndex(int(t->align));
  along_->setText(t->along ? tr("Straight again") : tr("Along a path"));
}

}  // namespace hseam::app
