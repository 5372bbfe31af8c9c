#include <QDialog>
#include <QGridLayout>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/keys/keys.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

// Hands of the pointer, which are no shortcuts but belong to the same list.
const std::pair<const char*, const char*> kHands[] = {
    {"; and letters", "an instrument of the open station by the first letters of its name"},
    {"left / right button", "reveals / hides; subject / background; widens / thins"},
    {"eraser end of a pen", "as the right button"},
    {"Shift and a click", "a straight run from the last one"},
    {"wheel", "zooms to the pointer"},
    {"Alt and the wheel", "size of the tip; with Shift its hardness"},
    {"Space or middle button, with a drag", "moves the view"},
    {"arrows, with Shift by ten", "nudge the picture, the frame, a point, a tack"},
    {"Ctrl and a click on a card", "takes that layer in hand beside the active one"},
};

}  // namespace

void showKeys(Keys& keys, QWidget* parent) {
  QDialog dialog(parent);
  dialog.setWindowTitle(QObject::tr("Keys"));
  dialog.resize(620, 640);
  auto* column = new QVBoxLayout(&dialog);
  auto* warning = new QLabel;
  warning->setProperty("warn", true);
  warning->setWordWrap(true);
  warning->setMinimumHeight(36);
  warning->setObjectName(QStringLiteral("clash"));
  auto* list = new QWidget;
  auto* grid = new QGridLayout(list);
  grid->setColumnStretch(0, 1);
  int row = 0;
  std::vector<QKeySequenceEdit*> fields;
  for (const Keys::Action& a : keys.all()) {
    auto* edit = new QKeySequenceEdit(a.now);
    edit->setClearButtonEnabled(true);
    edit->setAccessibleName(a.words);
    edit->setToolTip(QObject::tr("Press the keys for: %1").arg(a.words));
    edit->setMinimumWidth(190);
    fields.push_back(edit);
    QObject::connect(edit, &QKeySequenceEdit::editingFinished, &dialog, [&keys, edit, id = a.id, words = a.words, warning] {
      const QString other = keys.clash(edit->keySequence(), id);
      if (other.isEmpty()) {
        keys.set(id, edit->keySequence());
        warning->clear();
        return;
      }
      warning->setText(QObject::tr("%1 is taken by \"%2\". Choose other keys for \"%3\", or free them there first.")
                           .arg(edit->keySequence().toString(QKeySequence::NativeText), other, words));
      for (const Keys::Action& now : keys.all()) {
        if (now.id == id) edit->setKeySequence(now.now);
      }
    });
    grid->addWidget(new QLabel(a.words), row, 0);
    grid->addWidget(edit, row++, 1);
  }
  for (const auto& [hand, does] : kHands) {
    grid->addWidget(quietLabel(QObject::tr(does)), row, 0);
    grid->addWidget(quietLabel(QObject::tr(hand)), row++, 1);
  }
  auto* scroll = new QScrollArea;
  scroll->setWidget(list);
  scroll->setWidgetResizable(true);
  column->addWidget(scroll, 1);
  column->addWidget(warning);
  auto* reset = button(QObject::tr("All as at first"), QObject::tr("Every key as the program came"), [&keys, fields, warning] {
    keys.resetAll();
    for (std::size_t i = 0; i < fields.size(); ++i) fields[i]->setKeySequence(keys.all()[i].now);
    warning->clear();
  });
  column->addWidget(
      rowOf({reset, button(QObject::tr("Done"), QObject::tr("Close this list (Escape)"), [&dialog] { dialog.accept(); })}));
  dialog.exec();
}

}  // namespace hseam::app
