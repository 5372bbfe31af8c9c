#include "app/stations/look_over/findings_page.h"

#include <QCheckBox>
#include <QEvent>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/stations/look_over/done_to_it.h"
#include "app/stations/look_over/marks_layer.h"
#include "app/stations/look_over/write_report.h"
#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"
#include "core/findings/belong.h"

namespace hseam::app {
namespace {

using findings::Remedy;
using findings::Verdict;

}  // namespace

FindingsPage::FindingsPage(Desk& desk, Watch& watch)
    : Page(desk, {"findings", tr("What gives it away"), tr("Every cut-out's readings against the scene, and what mends them")}),
      watch_(watch),
      tool_({[this] { return findings(); }, [this] { return chosen_; }, [this](int i) { choose(i); }}),
      told_(quietLabel({})),
      tightness_(quietLabel({})),
      outcome_(new QWidget),
      steps_(new QVBoxLayout(outcome_)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(told_);
  auto* list = new QWidget;
  list_ = new QVBoxLayout(list);
  list_->setContentsMargins(0, 0, 0, 0);
  list_->setSpacing(2);
  column->addWidget(list);
  tightness_->setAccessibleName(tr("What the tightness is made of"));
  tightness_->setToolTip(
      tr("100 is tight; each finding takes off as much as it shows, so that they count the less the more there "
         "are. Of the scene: half its loosest layer, half the mean"));
  column->addWidget(tightness_);
  belong_ = button(tr("Make it belong"),
                   tr("Mends what is out about the active layer in the order of the work, reading anew after every step; one "
                      "undo takes it all back"),
                   [this] { belongTogether(desk_.session.active(), {.sceneToSubject = ofTheScene_->isChecked()}); });
  ofTheScene_ = new QCheckBox(tr("mend the scene instead"));
  ofTheScene_->setToolTip(
      tr("Where the subject counts, as in a portrait: tones, colours, grain and sharpness of what lies behind it are brought to "
         "it, and it stays as it is"));
  report_ =
      button(tr("Report…"), tr("All findings and readings as a page (HTML, PDF) or as data (JSON)"), [this] { exportReport(); });
  marks_ = button(tr("Marks as a layer"),
                  tr("Draws the findings' places and names on a layer of their own, to be handed on with the picture"), [this] {
                    if (const auto* all = findings()) addMarks(desk_.session, desk_.jobs, *all);
                  });
  column->addWidget(rowOf({belong_, report_}));
  column->addWidget(ofTheScene_);
  column->addWidget(rowOf({marks_}));
  steps_->setContentsMargins(0, 0, 0, 0);
  steps_->setSpacing(2);
  outcome_->hide();
  column->addWidget(outcome_);
  done_ = new DoneToIt(desk.session);
  column->addWidget(done_);
  numbers_ = new NumbersBeside;
  column->addWidget(numbers_);
  connect(&watch_, &Watch::changed, this, [this] {
    build();
    emit changed();
  });
}

const std::vector<Verdict>* FindingsPage::findings() const {
  return watch_.report() ? &watch_.report()->findings : nullptr;
}

QString FindingsPage::words() const {
  if (!watch_.report()) return watch_.failure().isEmpty() ? tr("reading…") : tr("can't be read");
  const auto n = watch_.report()->findings.size();
  return n == 0 ? tr("nothing found") : tr("%1 found, tightness %2").arg(n).arg(watch_.report()->tightness, 0, 'f', 0);
}

void FindingsPage::choose(int i) {
  const auto* all = findings();
  if (!all || i < 0 || i >= int(all->size())) return;
  chosen_ = i;
  chosenKind_ = (*all)[std::size_t(i)].kind;
  chosenLayer_ = (*all)[std::size_t(i)].layer;
  desk_.session.setActive(chosenLayer_);
  build();
  emit changed();
}

void FindingsPage::step(int by) {
  const auto* all = findings();
  if (!all || all->empty()) {
    emit desk_.messages.said(tr("Nothing gives it away"));
    return;
  }
  const int n = int(all->size());
  choose(chosen_ < 0 ? (by > 0 ? 0 : n - 1) : (chosen_ + by + n) % n);
}

// Rows are made anew with every report; the finding in hand stays in hand.
void FindingsPage::build() {
  previews_.clear();
  hovered_ = nullptr;
  reason_ = nullptr;
  emptyLayout(*list_);
  const auto* all = findings();
  chosen_ = -1;
  for (int i = 0; all && i < int(all->size()); ++i) {
    const Verdict& v = (*all)[std::size_t(i)];
    if (v.kind == chosenKind_ && v.layer == chosenLayer_) chosen_ = i;
  }
  for (int i = 0; all && i < int(all->size()); ++i) list_->addWidget(row(i));
  refresh();
}

QWidget* FindingsPage::row(int i) {
  const Verdict& v = (*findings())[std::size_t(i)];
  const bool open = i == chosen_;
  auto* box = new QFrame;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, open ? 8 : 0);
  column->setSpacing(4);
  auto* head =
      button(QStringLiteral("%1  %2: %3").arg(i + 1).arg(QString::fromStdString(v.layerName), tr(findings::kindOf(v.kind).name)),
             QString::fromStdString(v.sentence.text()), [this, i] { choose(i); });
  head->setStyleSheet(open ? QStringLiteral("text-align:left; font-weight:600;") : QStringLiteral("text-align:left;"));
  column->addWidget(head);
  if (!open) return box;
  auto* reason = new QLabel(QString::fromStdString(v.sentence.text()));
  reason->setWordWrap(true);
  column->addWidget(reason);
  column->addWidget(quietLabel(
      tr("%1 times out of its tolerance; how visible: %2 %").arg(v.excess, 0, 'f', 1).arg(100 * v.severity, 0, 'f', 0)));
  column->addWidget(remedyButtons(v));
  column->addWidget(answers(v));
  return box;
}

QWidget* FindingsPage::remedyButtons(const Verdict& v) {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  std::vector<Remedy> all = v.remedies;
  all.insert(all.end(), v.sceneRemedies.begin(), v.sceneRemedies.end());
  for (const Remedy& r : all) {
    auto* b = button(QString::fromStdString(r.label.text()),
                     tr("Shown in the scene while the pointer rests on it or it has the focus; a click applies it"),
                     [this, r] { apply(r); });
    b->setProperty("main", &r == &all.front());
    b->installEventFilter(this);
    previews_[b] = r;
    column->addWidget(b);
  }
  return box;
}

QWidget* FindingsPage::answers(const Verdict& v) {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  reason_ = new QLineEdit;
  reason_->setPlaceholderText(tr("why it may stay as it is"));
  reason_->setAccessibleName(tr("Reason for accepting"));
  reason_->setToolTip(tr("Kept with the project; the finding stays quiet unless it becomes worse"));
  auto* accept = button(tr("Accept"), tr("It stays as it is, for this reason"), [this, v] { answer(v, false); });
  accept->setEnabled(false);
  connect(reason_, &QLineEdit::textChanged, accept, [accept](const QString& t) { accept->setEnabled(!t.trimmed().isEmpty()); });
  connect(reason_, &QLineEdit::returnPressed, accept, &QPushButton::click);
  column->addWidget(rowOf({reason_, accept}));
  column->addWidget(rowOf({
      button(tr("It is wrong"), tr("The reading is mistaken here; remembered with its value"), [this, v] { answer(v, true); }),
      button(tr("Not this kind"), tr("Findings of this kind are not looked for in this project"),
             [this, v] {
               scene::Judging j = desk_.session.scene().judging ? *desk_.session.scene().judging : scene::Judging{};
               j.off.insert(findings::keyOf(v.kind));
               desk_.session.apply(scene::SetJudging{j, std::string("do not look for ") + findings::kindOf(v.kind).name});
             }),
  }));
  return box;
}

void FindingsPage::answer(const Verdict& v, bool wrong) {
  scene::Judging j = desk_.session.scene().judging ? *desk_.session.scene().judging : scene::Judging{};
  const std::string words = wrong || !reason_ ? std::string() : reason_->text().trimmed().toStdString();
  std::erase_if(j.answered, [&](const scene::Answered& a) { return a.kind == findings::keyOf(v.kind) && a.layer == v.layer; });
  j.answered.push_back({findings::keyOf(v.kind), v.layer, v.reading, v.excess, words, wrong});
  desk_.session.apply(scene::SetJudging{
      j, std::string(wrong ? "wrong finding: " : "accept: ") + findings::kindOf(v.kind).name + " of " + v.layerName});
}

bool FindingsPage::eventFilter(QObject* watched, QEvent* event) {
  const auto at = previews_.find(watched);
  if (at != previews_.end()) {
    if (event->type() == QEvent::Enter || event->type() == QEvent::FocusIn) {
      hovered_ = watched;
      preview(at->second);
    } else if ((event->type() == QEvent::Leave || event->type() == QEvent::FocusOut) && hovered_ == watched) {
      hovered_ = nullptr;
      desk_.session.draft(std::nullopt);
    }
  }
  return QWidget::eventFilter(watched, event);
}

void FindingsPage::preview(const Remedy& remedy) {
  QObject* on = hovered_;
  struct Made {
    std::optional<scene::Edit> edit;
  };
  desk_.aside.ask<Made>(
      QStringLiteral("remedy"),
      [remedy, s = desk_.session.scene()]() -> Made {
        base::InlineExecutor here;
        auto edit = remedy.make(s, here);
        return {edit.ok() ? std::optional(std::move(edit).value()) : std::nullopt};
      },
      [this, on](const Made& m) {
        if (m.edit && on && hovered_ == on) desk_.session.draft(*m.edit);
      });
}

void FindingsPage::apply(const Remedy& remedy) {
  hovered_ = nullptr;
  desk_.session.draft(std::nullopt);
  desk_.jobs.start<scene::Edit>(
      QString::fromStdString(remedy.label.text()),
      [remedy, s = desk_.session.scene()](base::Executor& e, const base::Progress&) { return remedy.make(s, e); },
      [this, from = desk_.session.scene()](const scene::Edit& edit) { desk_.session.applyResult(edit, from); });
}

void FindingsPage::belongTogether(scene::LayerId layer, const findings::BelongOptions& options) {
  const scene::Layer* l = scene::findLayer(desk_.session.scene(), layer);
  if (!l) {
    emit desk_.messages.said(tr("Choose the layer in the sheet first"));
    return;
  }
  desk_.jobs.start<findings::Belonging>(
      tr("Make %1 belong").arg(QString::fromStdString(l->name)),
      [s = desk_.session.scene(), layer, options](base::Executor& e, const base::Progress& p) {
        return findings::belong(s, layer, options, e, p);
      },
      [this, from = desk_.session.scene(), layer, options](const findings::Belonging& b) {
        if (b.edit.edits.empty()) {
          emit desk_.messages.said(tr("There is nothing that this could mend; why is said beside each step"));
          showSteps(b, layer, options);
        } else if (desk_.session.applyResult(b.edit, from)) {
          showSteps(b, layer, options);
        }
      });
}

// What each step did; one that is left out is taken back with all of them, and the others are done anew without it.
void FindingsPage::showSteps(const findings::Belonging& done, scene::LayerId layer, const findings::BelongOptions& options) {
  emptyLayout(*steps_);
  const std::string label = done.edit.label;
  const auto mayBeTakenBack = [this, label] {
    return desk_.session.history().step(desk_.session.history().current()).label == label;
  };
  for (const auto& step : done.steps) {
    QString words = tr("%1: %2").arg(tr(findings::kindOf(step.kind).name)).arg(step.before, 0, 'f', 2);
    words = step.done ? tr("%1 → %2").arg(words).arg(step.after, 0, 'f', 2)
                      : tr("%1, left alone: %2").arg(words, QString::fromStdString(step.why.text()));
    auto* told = quietLabel(words);
    told->setToolTip(QString::fromStdString(step.label.text()));
    if (!step.done) {
      steps_->addWidget(told);
      continue;
    }
    steps_->addWidget(rowOf({told, button(tr("Leave out"), tr("All of it again, without this step"), [=, this] {
                               if (!mayBeTakenBack()) {
                                 emit desk_.messages.said(tr("Something else was done since: undo that first"));
                                 return;
                               }
                               desk_.session.undo();
                               auto less = options;
                               less.without.push_back(step.kind);
                               outcome_->hide();
                               belongTogether(layer, less);
                             })}));
  }
  outcome_->show();
}

void FindingsPage::exportReport() {
  const QString path = askWhereToWrite(this, tr("Write the report"), desk_.session.title() + QStringLiteral(" findings.html"),
                                       {QStringLiteral(".html"), QStringLiteral(".pdf"), QStringLiteral(".json")},
                                       tr("Page (*.html);;PDF (*.pdf);;Data (*.json)"));
  if (!path.isEmpty()) writeReport(path);
}

void FindingsPage::writeReport(const QString& path) {
  if (watch_.report()) app::writeReport(desk_.session, desk_.messages, *watch_.report(), path);
}

void FindingsPage::refresh() {
  const auto* all = findings();
  told_->setVisible(!all || all->empty() || !watch_.isOfNow());
  if (!all) {
    told_->setText(watch_.failure().isEmpty() ? tr("The seams are being read…") : watch_.failure());
  } else if (!watch_.isOfNow()) {
    told_->setText(tr("The scene has changed; its seams are being read anew…"));
  } else {
    told_->setText(watch_.report()->layers.empty()
                       ? tr("There is no subject here that covers a part of the picture.")
                       : tr("Nothing gives it away: every reading that can be told is in tolerance."));
  }
  QStringList layers;
  for (const auto& l : all ? watch_.report()->layers : std::vector<findings::LayerTightness>{}) {
    const QString made = QString::fromStdString(findings::makeUpOf(*watch_.report(), l.layer));
    layers << tr("%1 %2%3")
                  .arg(QString::fromStdString(l.name))
                  .arg(l.tightness, 0, 'f', 0)
                  .arg(made.isEmpty() ? QString() : tr(": ") + made);
  }
  tightness_->setVisible(!layers.isEmpty());
  tightness_->setText(tr("Tightness: %1").arg(layers.join(QStringLiteral("; "))));
  const bool some =
      all && std::any_of(all->begin(), all->end(), [&](const Verdict& v) { return v.layer == desk_.session.active(); });
  belong_->setEnabled(some);
  ofTheScene_->setEnabled(some);
  done_->refresh();
  report_->setEnabled(all);
  marks_->setEnabled(all && !all->empty());
  // Of the active layer; of the first that is judged if that is none.
  std::optional<findings::LayerNumbers> numbers;
  QString name;
  for (const auto& n : watch_.report() ? watch_.report()->numbers : std::vector<findings::LayerNumbers>{}) {
    if (numbers && n.layer != desk_.session.active()) continue;
    const scene::Layer* l = scene::findLayer(desk_.session.scene(), n.layer);
    if (l) numbers = n, name = QString::fromStdString(l->name);
  }
  numbers_->setNumbers(numbers, name);
}

}  // namespace hseam::app
