#pragma once

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

namespace hseam::app::theme {

enum class Look { dark, light };

// The one palette. Greys are neutral (R = G = B) so that colour can be judged beside them; blue is what can be clicked and
// thread, orange is for attention only. Text stands 4.5:1 or better on every level that it is used on.
struct Colours {
  QColor base;    // tabs' back, sheet, ribbon
  QColor raised;  // pages and cards
  QColor open;    // canvas surround, the open tab, the active card
  QColor sunk;    // fields and tags
  QColor line;
  QColor text, quiet;
  QColor blue, orange;
  QColor onBlue;  // text on blue
  QColor control, controlOver, controlOff, textOff, edge;
};
/// Of the look in use.
const Colours& colours();
Look look();

enum class Size { small, normal, title };
/// Inter with tabular figures; 12, 13 and 15 px.
QFont font(Size size = Size::normal, bool strong = false);

/// Fonts, palette and icon; again for another look.
void apply(QApplication& application, Look look = Look::dark);
/// The rest of the look in use, for a main window. Set it when all is built: a style sheet is matched again, all the way down,
/// whenever a widget gets a parent, which more than doubles the time in which the window is built.
QString styleSheet();

}  // namespace hseam::app::theme
