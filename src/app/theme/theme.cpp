#include "app/theme/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QIcon>
#include <QPalette>
#include <QStyleFactory>

// Q_INIT_RESOURCE must stand outside of any namespace.
static void initResources() {
  Q_INIT_RESOURCE(theme);
}

namespace hseam::app::theme {
namespace {

// Font and text colour come from the application's font and palette: a rule that every widget matches costs a fifth of the time
// in which a window is built.
constexpr const char* kStyle = R"(
QMainWindow, QDialog { background: @base; }
QToolTip { color: @text; background: @sunk; border: 1px solid @open; padding: 4px; }
QLabel[quiet="true"] { color: @quiet; font-size: 12px; }
QLabel[warn="true"] { color: @orange; font-size: 12px; }
QPushButton, QToolButton { background: @control; color: @blue; border: 1px solid @control; border-radius: 5px; padding: 4px 10px; min-height: 18px; }
QPushButton:hover, QToolButton:hover { background: @over; }
QPushButton:pressed, QToolButton:pressed { background: @sunk; }
QPushButton:checked, QToolButton:checked { background: @sunk; border-color: @blue; color: @text; }
QPushButton:focus, QToolButton:focus, QComboBox:focus, QDoubleSpinBox:focus, QSpinBox:focus, QLineEdit:focus { border: 1px solid @blue; }
QPushButton:disabled, QToolButton:disabled { color: @textoff; background: @off; border-color: @off; }
QPushButton[main="true"] { background: @blue; color: @onblue; font-weight: 600; border-color: @blue; }
QPushButton[main="true"]:hover { background: @blue; }
QPushButton[main="true"]:disabled { background: @off; color: @textoff; border-color: @off; }
QComboBox, QDoubleSpinBox, QSpinBox, QLineEdit { background: @sunk; color: @text; border: 1px solid @sunk; border-radius: 4px; padding: 3px 6px; min-height: 18px;
  selection-background-color: @blue; selection-color: @onblue; }
QComboBox QAbstractItemView { background: @sunk; color: @text; selection-background-color: @control; border: 1px solid @open; }
QComboBox::drop-down { border: none; width: 22px; }
QComboBox::down-arrow { image: url(:/theme/icons/fold.svg); width: 12px; height: 12px; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; border: none; }
QCheckBox, QRadioButton { spacing: 8px; min-height: 22px; }
QCheckBox:focus, QRadioButton:focus { color: @blue; }
QCheckBox::indicator, QRadioButton::indicator { width: 14px; height: 14px; border: 1px solid @textoff; background: @sunk; }
QCheckBox::indicator { border-radius: 3px; }
QRadioButton::indicator { border-radius: 8px; }
QCheckBox::indicator:checked { background: @blue; border-color: @blue; image: url(:/theme/icons/stitch.svg); }
QRadioButton::indicator:checked { background: @blue; border: 4px solid @sunk; width: 8px; height: 8px; }
QCheckBox::indicator:disabled, QRadioButton::indicator:disabled { border-color: @open; }
QCheckBox:disabled, QRadioButton:disabled { color: @textoff; }
QSlider { min-height: 22px; }
QSlider::groove:horizontal { height: 5px; background: @sunk; border-radius: 2px; }
QSlider::sub-page:horizontal { height: 5px; background: @blue; border-radius: 2px; }
QSlider::handle:horizontal { width: 11px; height: 17px; margin: -6px 0; background: @edge; border-radius: 3px; border: 1px solid @line; }
QSlider::handle:horizontal:focus { background: @blue; }
QScrollArea { border: none; background: transparent; }
QScrollBar:vertical { width: 9px; background: transparent; }
QScrollBar::handle:vertical { background: @edge; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; }
QProgressBar { background: @sunk; border: none; border-radius: 3px; max-height: 8px; text-align: center; }
QProgressBar::chunk { background: @blue; border-radius: 3px; }
QMenu { background: @sunk; border: 1px solid @open; }
QMenu::item:selected { background: @control; }
#bench { background: @open; }
QFrame[notice="true"], hseam--app--BenchHead { background: @sunk; }
hseam--app--BenchHead { border-radius: 6px; }
hseam--app--PageFrame QToolButton { background: transparent; border: 1px solid transparent; color: @text; padding: 3px 0; text-align: left; }
hseam--app--PageFrame QToolButton:focus { border-color: @blue; }
QTableView, QTableWidget { background: @sunk; color: @text; gridline-color: @open; selection-background-color: @control; selection-color: @text; border: none; }
QHeaderView::section { background: @raised; color: @quiet; border: none; padding: 4px 8px; }
)";

}  // namespace

namespace {

const Colours kDark{{0x38, 0x38, 0x38}, {0x47, 0x47, 0x47}, {0x5c, 0x5c, 0x5c}, {0x2c, 0x2c, 0x2c}, {0x2a, 0x2a, 0x2a},
                    {0xf0, 0xf0, 0xf0}, {0xc4, 0xc4, 0xc4}, {0x9c, 0xc4, 0xec}, {0xf0, 0xa0, 0x60}, {0x1c, 0x1c, 0x1c},
                    {0x4c, 0x4c, 0x4c}, {0x60, 0x60, 0x60}, {0x42, 0x42, 0x42}, {0x8c, 0x8c, 0x8c}, {0xdc, 0xdc, 0xdc}};
const Colours kLight{{0xb4, 0xb4, 0xb4}, {0xc6, 0xc6, 0xc6}, {0xd8, 0xd8, 0xd8}, {0xee, 0xee, 0xee}, {0x8a, 0x8a, 0x8a},
                     {0x14, 0x14, 0x14}, {0x38, 0x38, 0x38}, {0x08, 0x44, 0x80}, {0x7a, 0x30, 0x00}, {0xff, 0xff, 0xff},
                     {0xe6, 0xe6, 0xe6}, {0xf6, 0xf6, 0xf6}, {0xce, 0xce, 0xce}, {0x76, 0x76, 0x76}, {0x50, 0x50, 0x50}};

Look& current() {
  static Look look = Look::dark;
  return look;
}

QString sheetOf(const Colours& c) {
  QString s = QString::fromLatin1(kStyle);
  // Longer names first: none may be taken for the beginning of another.
  const std::pair<const char*, QColor> names[] = {{"@controlOver", c.controlOver},
                                                  {"@textoff", c.textOff},
                                                  {"@control", c.control},
                                                  {"@raised", c.raised},
                                                  {"@orange", c.orange},
                                                  {"@onblue", c.onBlue},
                                                  {"@quiet", c.quiet},
                                                  {"@base", c.base},
                                                  {"@sunk", c.sunk},
                                                  {"@open", c.open},
                                                  {"@text", c.text},
                                                  {"@blue", c.blue},
                                                  {"@over", c.controlOver},
                                                  {"@line", c.line},
                                                  {"@edge", c.edge},
                                                  {"@off", c.controlOff}};
  if (current() == Look::light) s.replace(QStringLiteral(".svg"), QStringLiteral("-light.svg"));
  for (const auto& [name, colour] : names) s.replace(QLatin1String(name), colour.name());
  return s;
}

}  // namespace

const Colours& colours() {
  return current() == Look::dark ? kDark : kLight;
}
Look look() {
  return current();
}

QFont font(Size size, bool strong) {
  QFont f(QStringLiteral("Inter"));
  f.setPixelSize(size == Size::small ? 12 : (size == Size::normal ? 13 : 15));
  f.setWeight(strong ? QFont::DemiBold : QFont::Normal);
  return f;
}

void apply(QApplication& application, Look look) {
  // A new style is polished into every widget there is, which takes longer than building a window does.
  if (application.property("look") == int(look)) return;
  application.setProperty("look", int(look));
  current() = look;
  const Colours& c = colours();
  initResources();  // a static library's resources are not found by themselves
  static bool fontsThere = false;
  for (const char* name : {"Regular", "SemiBold"}) {
    if (fontsThere) break;
    QFontDatabase::addApplicationFont(QStringLiteral(":/theme/fonts/Inter-%1.otf").arg(QLatin1String(name)));
  }
  fontsThere = true;
  application.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  QPalette p;
  p.setColor(QPalette::Window, c.base);
  p.setColor(QPalette::Base, c.sunk);
  p.setColor(QPalette::Button, c.raised);
  p.setColor(QPalette::Text, c.text);
  p.setColor(QPalette::WindowText, c.text);
  p.setColor(QPalette::ButtonText, c.text);
  p.setColor(QPalette::Highlight, c.blue);
  p.setColor(QPalette::HighlightedText, c.onBlue);
  p.setColor(QPalette::PlaceholderText, c.quiet);
  application.setPalette(p);
  application.setFont(font());
  application.setWindowIcon(QIcon(QStringLiteral(":/theme/icons/hidden-seam.svg")));
}

QString styleSheet() {
  return sheetOf(colours());
}

}  // namespace hseam::app::theme
