#include "app/stations/match/adjustment_shelves.h"

#include <QCoreApplication>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>

#include "app/stations/match/adjust_editors.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

using Shelf = scene::AdjustmentKind::Shelf;
using Add = std::function<void(const scene::Adjustment&)>;

QString words(const char* text) {
  return QCoreApplication::translate("adjustments", text);
}

struct Fixed {
  Shelf shelf;
  const char *name, *tip;
  scene::Adjustment begins;
};
// Those with an editor of their own, before the table's.
std::vector<Fixed> fixedOnes() {
  return {{Shelf::tones, "curves", "Tones by a curve over the histogram, by channel or lightness", scene::Curves{}},
          {Shelf::tones, "levels", "Darkest, middle and lightest tone", scene::Levels{}},
          {Shelf::tones, "exposure", "Light times two for each stop", scene::Exposure{}},
          {Shelf::colours, "colour balance", "Lean shadows, midtones and highlights towards a colour", scene::ColourBalance{}},
          {Shelf::colours, "saturation", "Colour stronger or weaker, lightness kept", scene::Saturation{}},
          {Shelf::colours, "tones to colours", "Each tone becomes a colour of your own", scene::TonesToColours{}}};
}

void addTable(QWidget* parent, const Add& add) {
  const QString path = QFileDialog::getOpenFileName(parent, words("Read a colour table"), {}, words("Colour tables (*.cube)"));
  if (path.isEmpty()) return;
  const auto read = AdjustEditors::tableFrom(path);
  if (read.ok()) {
    add(*read);
  } else {
    QMessageBox::warning(parent, words("Colour table"), QString::fromStdString(read.error().text()));
  }
}

QPushButton* shelf(Shelf which, const QString& name, const QString& tip, const Add& add) {
  auto* b = new QPushButton(name);
  b->setToolTip(tip);
  auto* menu = new QMenu(b);
  menu->setToolTipsVisible(true);
  menu->setAccessibleName(name);
  const auto item = [menu, add](const char* text, const char* why, const scene::Adjustment& begins) {
    menu->addAction(words(text), [add, begins] { add(begins); })->setToolTip(words(why));
  };
  for (const Fixed& f : fixedOnes()) {
    if (f.shelf == which) item(f.name, f.tip, f.begins);
  }
  for (const auto& k : scene::adjustmentKinds()) {
    if (k.shelf == which) item(k.name, k.tip, scene::parametric(k.id));
  }
  if (which == Shelf::colours)
    menu->addAction(words("colour table…"), [b, add] { addTable(b, add); })->setToolTip(words("Colours by a .cube file"));
  b->setMenu(menu);
  return b;
}

}  // namespace

QList<QWidget*> shelves(const Add& add) {
  return {rowOf({shelf(Shelf::tones, words("Tones"), words("Curves, levels, exposure, local contrast…"), add),
                 shelf(Shelf::colours, words("Colours"), words("Balance, warmth, hue ranges, grey from colours…"), add)}),
          rowOf({shelf(Shelf::focus, words("Focus and grain"), words("Out of focus, blur, sharpness, noise, grain"), add),
                 shelf(Shelf::air, words("Light and air"), words("Light wrap, haze, flare, corner darkening"), add)})};
}

}  // namespace hseam::app
