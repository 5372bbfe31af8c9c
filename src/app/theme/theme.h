#pragma once

#include <QColor>
#include <QFont>

class QApplication;

namespace hseam::app::theme {

// The one palette. Greys are neutral (R = G = B) so that colour can be judged beside them; blue is what can be clicked and
// thread, orange is for attention only.
inline const QColor kBase{0x38, 0x38, 0x38};    // L* 24: tabs' back, sheet, ribbon
inline const QColor kRaised{0x47, 0x47, 0x47};  // L* 30: pleats and cards
inline const QColor kOpen{0x5c, 0x5c, 0x5c};    // L* 39: canvas surround, the open tab, the active card
inline const QColor kSunk{0x2c, 0x2c, 0x2c};    // fields
inline const QColor kLine{0x2a, 0x2a, 0x2a};
inline const QColor kText{0xf0, 0xf0, 0xf0};
inline const QColor kQuiet{0xc4, 0xc4, 0xc4};  // 4.5:1 on kOpen and better on the rest
inline const QColor kBlue{0x9c, 0xc4, 0xec};
inline const QColor kOrange{0xf0, 0xa0, 0x60};

enum class Size { small, normal, title };
/// Inter with tabular figures; 12, 13 and 15 px.
QFont font(Size size = Size::normal, bool strong = false);

/// Fonts, palette and style sheet.
void apply(QApplication& application);

}  // namespace hseam::app::theme
