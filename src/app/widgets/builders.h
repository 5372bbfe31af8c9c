#pragma once
// Small builders, so that every control has its words.

#include <QList>
#include <QString>
#include <functional>

class QLabel;
class QPushButton;
class QScrollArea;
class QStackedWidget;
class QWidget;

namespace hseam::app {

QPushButton* button(const QString& text, const QString& tip, const std::function<void()>& act);
QLabel* quietLabel(const QString& text);
QWidget* rowOf(const QList<QWidget*>& widgets);
/// Takes everything out of a layout; a button that is being pressed may be among it.
void emptyLayout(QLayout& layout);
/// The name of a control, as wide as those above and below it, and the control.
QWidget* namedRow(const QString& name, QWidget* control);
/// Room for a tall column: scrolls up and down, shows what is behind it, is no stop of the Tab key.
QScrollArea* tallRoom(QWidget* column);
/// From now on the stack is as tall as the page that is shown, not as its tallest.
void fitToPage(QStackedWidget* stack);

}  // namespace hseam::app
