#include "app/widgets/run_of_work.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {

RunOfWork::RunOfWork(const QStringList& names, QWidget* parent) : QWidget(parent) {
  for (const QString& n : names) tabs_.push_back({n, {}, Stitch::none});
  setFixedHeight(58);
  setMinimumWidth(600);
  setMouseTracking(true);
  setFocusPolicy(Qt::TabFocus);
  setAccessibleName(tr("Run of work"));
  setAccessibleDescription(
      tr("Six stations: %1. Left and right arrows or Alt with 1 to 6 choose one.").arg(names.join(QStringLiteral(", "))));
  setToolTip(tr("The stations of the work, in any order. Alt+1 to Alt+6"));
}

void RunOfWork::setState(int tab, Stitch stitch, const QString& words) {
  Tab& t = tabs_[std::size_t(tab)];
  t.stitch = stitch;
  t.words = words;
  update();
}

void RunOfWork::setCurrent(int tab) {
  current_ = tab;
  update();
}

QRectF RunOfWork::place(int tab) const {
  const double w = (width() - 20.0) / double(tabs_.size());
  return {10 + tab * w, 6, w + 10, height() - 6.0};
}

int RunOfWork::at(QPointF p) const {
  for (int i = 0; i < int(tabs_.size()); ++i) {
    if (place(i).adjusted(0, 0, -10, 0).contains(p)) return i;
  }
  return -1;
}

void RunOfWork::drawTab(QPainter& painter, int i) const {
  const Tab& tab = tabs_[std::size_t(i)];
  const bool open = i == current_;
  const QRectF r = place(i).adjusted(0, open ? -2 : 0, 0, 0);
  QPainterPath sheet;
  sheet.moveTo(r.left(), r.bottom());
  sheet.lineTo(r.left(), r.top() + 6);
  sheet.quadTo(r.left(), r.top(), r.left() + 6, r.top());
  sheet.lineTo(r.right() - 16, r.top());
  sheet.lineTo(r.right(), r.top() + 14);
  sheet.lineTo(r.right(), r.bottom());
  painter.setPen(QPen(theme::colours().line, 1));
  painter.setBrush(open ? theme::colours().open : (i == under_ ? theme::colours().raised.lighter(112) : theme::colours().raised));
  painter.drawPath(sheet);
  painter.setPen(theme::colours().text);
  painter.setFont(theme::font(theme::Size::normal, open));
  painter.drawText(QRectF(r.left() + 14, r.top() + 6, r.width() - 30, 18), Qt::AlignVCenter, tab.name);
  painter.setPen(theme::colours().quiet);
  painter.setFont(theme::font(theme::Size::small));
  painter.drawText(QRectF(r.left() + 14, r.top() + 23, r.width() - 34, 16), Qt::AlignVCenter,
                   painter.fontMetrics().elidedText(tab.words, Qt::ElideRight, int(r.width()) - 34));
  const double y = r.bottom() - 8, from = r.left() + 14, to = r.right() - 22;
  if (tab.stitch == Stitch::none) {
    painter.setPen(QPen(theme::colours().quiet.darker(150), 1.5, Qt::DotLine));
    painter.drawLine(QPointF(from, y), QPointF(to, y));
  } else if (tab.stitch == Stitch::tight) {
    QPen thread(theme::colours().blue, 2);
    thread.setDashPattern({4, 2});
    painter.setPen(thread);
    painter.drawLine(QPointF(from, y), QPointF(to, y));
  } else if (tab.stitch == Stitch::knotted) {
    painter.setPen(QPen(theme::colours().orange, 1.6));
    painter.drawLine(QPointF(from, y), QPointF(to, y));
    painter.setBrush(theme::colours().orange);
    for (double x = from + 8; x < to - 4; x += 22) painter.drawEllipse(QPointF(x, y), 3.2, 3.2);
  } else {
    QPainterPath loops(QPointF(from, y));
    for (double x = from; x < to - 8; x += 14) loops.cubicTo(x + 4, y - 6, x + 10, y + 6, std::min(x + 14, to), y);
    painter.setPen(QPen(theme::colours().blue, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(loops);
  }
  if (open && hasFocus()) {
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(r.adjusted(4, 4, -14, -4), 4, 4);
  }
}

void RunOfWork::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme::colours().base);
  for (int i = int(tabs_.size()) - 1; i >= 0; --i) {
    if (i != current_) drawTab(painter, i);
  }
  drawTab(painter, current_);
}

void RunOfWork::mousePressEvent(QMouseEvent* event) {
  if (const int tab = at(event->position()); tab >= 0) emit chosen(tab);
}

void RunOfWork::mouseMoveEvent(QMouseEvent* event) {
  const int tab = at(event->position());
  if (tab == under_) return;
  under_ = tab;
  update();
}

void RunOfWork::leaveEvent(QEvent*) {
  under_ = -1;
  update();
}

void RunOfWork::keyPressEvent(QKeyEvent* event) {
  const int count = int(tabs_.size());
  if (event->key() == Qt::Key_Right) {
    emit chosen((current_ + 1) % count);
  } else if (event->key() == Qt::Key_Left) {
    emit chosen((current_ + count - 1) % count);
  } else {
    QWidget::keyPressEvent(event);
  }
}

}  // namespace hseam::app
