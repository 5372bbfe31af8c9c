#include "app/theme/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>

// Q_INIT_RESOURCE must stand outside of any namespace.
static void initResources() {
  Q_INIT_RESOURCE(theme);
}

namespace hseam::app::theme {
namespace {

constexpr const char* kStyle = R"(
* { font-size: 13px; }
QWidget { color: #f0f0f0; }
QMainWindow, QDialog { background: #383838; }
QToolTip { color: #f0f0f0; background: #2c2c2c; border: 1px solid #5c5c5c; padding: 4px; }
QLabel[quiet="true"] { color: #c4c4c4; font-size: 12px; }
QLabel[warn="true"] { color: #f0a060; font-size: 12px; }
QPushButton, QToolButton { background: #525252; color: #9cc4ec; border: 1px solid #525252; border-radius: 5px; padding: 4px 10px; min-height: 18px; }
QPushButton:hover, QToolButton:hover { background: #606060; }
QPushButton:pressed, QToolButton:pressed { background: #2c2c2c; }
QPushButton:checked, QToolButton:checked { background: #2c2c2c; border-color: #9cc4ec; color: #f0f0f0; }
QPushButton:focus, QToolButton:focus, QComboBox:focus, QDoubleSpinBox:focus, QSpinBox:focus, QLineEdit:focus { border: 1px solid #9cc4ec; }
QPushButton:disabled, QToolButton:disabled { color: #8c8c8c; background: #424242; border-color: #424242; }
QPushButton[main="true"] { background: #9cc4ec; color: #1c1c1c; font-weight: 600; border-color: #9cc4ec; }
QPushButton[main="true"]:hover { background: #b4d4f4; }
QPushButton[main="true"]:disabled { background: #424242; color: #8c8c8c; border-color: #424242; }
QComboBox, QDoubleSpinBox, QSpinBox, QLineEdit { background: #2c2c2c; color: #f0f0f0; border: 1px solid #2c2c2c; border-radius: 4px; padding: 3px 6px; min-height: 18px;
  selection-background-color: #9cc4ec; selection-color: #1c1c1c; }
QComboBox QAbstractItemView { background: #2c2c2c; color: #f0f0f0; selection-background-color: #525252; border: 1px solid #5c5c5c; }
QComboBox::drop-down { border: none; width: 22px; }
QComboBox::down-arrow { image: url(:/theme/icons/fold.svg); width: 12px; height: 12px; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; border: none; }
QCheckBox, QRadioButton { spacing: 8px; min-height: 22px; }
QCheckBox:focus, QRadioButton:focus { color: #9cc4ec; }
QCheckBox::indicator, QRadioButton::indicator { width: 14px; height: 14px; border: 1px solid #8c8c8c; background: #2c2c2c; }
QCheckBox::indicator { border-radius: 3px; }
QRadioButton::indicator { border-radius: 8px; }
QCheckBox::indicator:checked { background: #9cc4ec; border-color: #9cc4ec; image: url(:/theme/icons/stitch.svg); }
QRadioButton::indicator:checked { background: #9cc4ec; border: 4px solid #2c2c2c; width: 8px; height: 8px; }
QCheckBox::indicator:disabled, QRadioButton::indicator:disabled { border-color: #5c5c5c; }
QCheckBox:disabled, QRadioButton:disabled { color: #8c8c8c; }
QSlider { min-height: 22px; }
QSlider::groove:horizontal { height: 5px; background: #2c2c2c; border-radius: 2px; }
QSlider::sub-page:horizontal { height: 5px; background: #9cc4ec; border-radius: 2px; }
QSlider::handle:horizontal { width: 11px; height: 17px; margin: -6px 0; background: #dcdcdc; border-radius: 3px; border: 1px solid #2a2a2a; }
QSlider::handle:horizontal:focus { background: #9cc4ec; }
QScrollArea { border: none; background: transparent; }
QScrollBar:vertical { width: 9px; background: transparent; }
QScrollBar::handle:vertical { background: #6a6a6a; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { height: 0; }
QProgressBar { background: #2c2c2c; border: none; border-radius: 3px; max-height: 8px; text-align: center; }
QProgressBar::chunk { background: #9cc4ec; border-radius: 3px; }
QMenu { background: #2c2c2c; border: 1px solid #5c5c5c; }
QMenu::item:selected { background: #525252; }
)";

}  // namespace

QFont font(Size size, bool strong) {
  QFont f(QStringLiteral("Inter"));
  f.setPixelSize(size == Size::small ? 12 : (size == Size::normal ? 13 : 15));
  f.setWeight(strong ? QFont::DemiBold : QFont::Normal);
  return f;
}

void apply(QApplication& application) {
  initResources();  // a static library's resources are not found by themselves
  for (const char* name : {"Regular", "SemiBold"})
    QFontDatabase::addApplicationFont(QStringLiteral(":/theme/fonts/Inter-%1.otf").arg(QLatin1String(name)));
  application.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  QPalette p;
  p.setColor(QPalette::Window, kBase);
  p.setColor(QPalette::Base, kSunk);
  p.setColor(QPalette::Button, kRaised);
  p.setColor(QPalette::Text, kText);
  p.setColor(QPalette::WindowText, kText);
  p.setColor(QPalette::ButtonText, kText);
  p.setColor(QPalette::Highlight, kBlue);
  p.setColor(QPalette::HighlightedText, kLine);
  p.setColor(QPalette::PlaceholderText, kQuiet);
  application.setPalette(p);
  application.setFont(font());
  application.setStyleSheet(QString::fromLatin1(kStyle));
}

}  // namespace hseam::app::theme
