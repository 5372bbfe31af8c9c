#include "app/stations/gather/permission_page.h"

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

PermissionPage::PermissionPage(Desk& desk)
    : Page(desk,
           {"permission", tr("Permission"),
            tr("Who is seen in the active picture, what they have allowed, and until when; asked for when you hand over")}) {
  auto* c = column();
  const auto line = [&](const QString& name, const QString& tip, const QString& placeholder) {
    auto* edit = new QLineEdit;
    edit->setAccessibleName(name);
    edit->setToolTip(tip);
    edit->setPlaceholderText(placeholder);
    connect(edit, &QLineEdit::editingFinished, this, [this] { keep(); });
    c->addWidget(namedRow(name, edit));
    return edit;
  };
  who_ = line(tr("who"), tr("Who is seen in it, or has allowed its use"), tr("name"));
  what_ = line(tr("what for"), tr("What it may be used for"), tr("posters and the web"));
  until_ = line(tr("until"), tr("The last day, as year-month-day; empty: without end"), tr("2027-05-31"));
  minors_ = new QCheckBox(tr("children or young people are seen"));
  minors_->setToolTip(tr("You are asked each time before the work is handed over"));
  nobody_ = new QCheckBox(tr("nobody can be recognised in it"));
  nobody_->setToolTip(tr("Nobody has to be asked"));
  for (QCheckBox* box : {minors_, nobody_}) {
    connect(box, &QCheckBox::clicked, this, [this] { keep(); });
    c->addWidget(box);
  }
  wrong_ = new QLabel;
  wrong_->setWordWrap(true);
  wrong_->hide();
  c->addWidget(wrong_);
  c->addWidget(button(tr("Nobody is seen in any of the others"),
                      tr("Notes it for every picture of this scene that has no note yet"), [this] {
                        std::vector<scene::LayerId> without;
                        for (const scene::LayerRef& l : scene::allLayers(desk_.session.scene())) {
                          if (l->picture() && !l->picture()->byHand && !l->picture()->permission) without.push_back(l->id);
                        }
                        nobodyIn(without);
                      }));
  c->addWidget(quietLabel(tr("Kept in the project, not written into files. A note is no contract: keep what was signed.")));
  refresh();
}

void PermissionPage::keep() {
  const auto* p = activePicture();
  if (!p) return;
  scene::Permission note{who_->text().trimmed().toStdString(), what_->text().trimmed().toStdString(),
                         until_->text().trimmed().toStdString(), minors_->isChecked(), nobody_->isChecked()};
  const base::Status valid = scene::validPermission(note);
  wrong_->setVisible(!valid.ok());
  if (!valid.ok()) {
    wrong_->setText(QString::fromStdString(valid.error().detail));
    return;
  }
  const auto wanted = note == scene::Permission{} ? std::nullopt : std::optional(std::move(note));
  if (wanted != p->permission) desk_.session.apply(scene::SetPermission{desk_.session.active(), wanted});
}

void PermissionPage::nobodyIn(const std::vector<scene::LayerId>& layers) {
  if (layers.empty()) return;
  scene::Several step{"nobody is seen in the other pictures", {}};
  for (const scene::LayerId id : layers) {
    scene::Permission note;
    note.nobodySeen = true;
    step.edits.push_back({scene::SetPermission{id, note}});
  }
  desk_.session.apply(step);
}

QString PermissionPage::words() const {
  const auto* p = activePicture();
  if (!p || p->byHand) return {};
  if (!p->permission) return tr("not noted");
  if (!p->permission->until.empty() && p->permission->until < scene::today()) return tr("ended");
  if (p->permission->minors) return tr("minors");
  return p->permission->until.empty() ? tr("noted") : tr("until %1").arg(QString::fromStdString(p->permission->until));
}

void PermissionPage::refresh() {
  const auto* p = activePicture();
  setEnabled(p && !p->byHand);
  const scene::Permission note = p && p->permission ? *p->permission : scene::Permission{};
  const auto show = [](QLineEdit* edit, const std::string& text) {
    if (!edit->hasFocus() && edit->text() != QString::fromStdString(text)) edit->setText(QString::fromStdString(text));
  };
  show(who_, note.who);
  show(what_, note.what);
  show(until_, note.until);
  minors_->setChecked(note.minors);
  nobody_->setChecked(note.nobodySeen);
}

}  // namespace hseam::app
