#include "app/widgets/builders.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>

namespace hseam::app {

QPushButton* button(const QString& text, const QString& tip, const std::function<void()>& act) {
  auto* b = new QPushButton(text);
  b->setToolTip(tip);
  b->setAccessibleName(text);
  b->setAccessibleDescription(tip);
  b->setAutoDefault(false);
  QObject::connect(b, &QPushButton::clicked, b, [act] { act(); });
  return b;
}

QLabel* quietLabel(const QString& text) {
  auto* l = new QLabel(text);
  l->setProperty("quiet", true);
  l->setWordWrap(true);
  return l;
}

QWidget* rowOf(const QList<QWidget*>& widgets) {
  auto* w = new QWidget;
  auto* row = new QHBoxLayout(w);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  for (QWidget* x : widgets) row->addWidget(x);
  return w;
}

QWidget* namedRow(const QString& name, QWidget* control) {
  constexpr int kNameWidth = 74;
  auto* label = quietLabel(name);
  label->setFixedWidth(kNameWidth);
  return rowOf({label, control});
}

QScrollArea* tallRoom(QWidget* column) {
  auto* room = new QScrollArea;
  room->setWidget(column);
  room->setWidgetResizable(true);
  room->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  room->setFocusPolicy(Qt::NoFocus);
  // Not by a style sheet of its own: that would be matched for all that stands in it.
  room->viewport()->setAutoFillBackground(false);
  column->setAutoFillBackground(false);
  return room;
}

void fitToPage(QStackedWidget* stack) {
  const auto fit = [stack](int current) {
    for (int i = 0; i < stack->count(); ++i)
      stack->widget(i)->setSizePolicy(QSizePolicy::Preferred, i == current ? QSizePolicy::Preferred : QSizePolicy::Ignored);
    stack->adjustSize();
  };
  QObject::connect(stack, &QStackedWidget::currentChanged, stack, fit);
  fit(stack->currentIndex());
}

void emptyLayout(QLayout& layout) {
  while (QLayoutItem* item = layout.takeAt(0)) {
    if (QWidget* widget = item->widget()) {
      widget->hide();
      widget->deleteLater();
    }
    delete item;
  }
}

}  // namespace hseam::app
