#include "app/widgets/pleat.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace hseam::app {

Pleat::Pleat(const QString& name, const QString& tip, QWidget* parent)
    : QFrame(parent), name_(name), head_(new QToolButton(this)), value_(new QLabel(this)), body_(new QWidget(this)) {
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(12, 4, 12, 4);
  outer->setSpacing(4);
  auto* line = new QHBoxLayout;
  head_->setText(name);
  head_->setToolTip(tip);
  head_->setAccessibleName(name);
  head_->setAccessibleDescription(tip);
  head_->setCursor(Qt::PointingHandCursor);
  value_->setProperty("quiet", true);
  value_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  line->addWidget(head_);
  line->addWidget(value_, 1);
  outer->addLayout(line);
  content_ = new QVBoxLayout(body_);
  content_->setContentsMargins(0, 2, 0, 6);
  content_->setSpacing(6);
  outer->addWidget(body_);
  body_->hide();
  connect(head_, &QToolButton::clicked, this, &Pleat::toggled);
}

void Pleat::setValue(const QString& words) {
  value_->setText(words);
}

void Pleat::setOpen(bool open) {
  if (open == open_) return;
  open_ = open;
  body_->setVisible(open);
  head_->setFont(theme::font(theme::Size::normal, open));
  update();
}

void Pleat::mousePressEvent(QMouseEvent* event) {
  if (event->position().y() < 34) emit toggled();
}

void Pleat::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(theme::colours().raised);
  p.drawRoundedRect(rect(), 5, 5);
  if (!open_) return;
  // The thread that holds an open pleat.
  QPen thread(theme::colours().blue, 2);
  thread.setDashPattern({3, 2});
  p.setPen(thread);
  p.drawLine(3, 8, 3, height() - 8);
}

Pleats::Pleats(QWidget* parent) : QWidget(parent), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(6);
}

Pleat* Pleats::add(const QString& name, const QString& tip) {
  auto* pleat = new Pleat(name, tip, this);
  column_->addWidget(pleat);
  pleats_.push_back(pleat);
  connect(pleat, &Pleat::toggled, this, [this, pleat] { open(pleat->isOpen() ? nullptr : pleat); });
  return pleat;
}

void Pleats::open(Pleat* pleat) {
  for (Pleat* p : pleats_) p->setOpen(p == pleat);
  emit currentChanged();
}

Pleat* Pleats::current() const {
  for (Pleat* p : pleats_) {
    if (p->isOpen()) return p;
  }
  return nullptr;
}

}  // namespace hseam::app
