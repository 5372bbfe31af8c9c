#include "app/widgets/page_list.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QResizeEvent>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace hseam::app {

PageFrame::PageFrame(const QString& id, const QString& name, const QString& tip, QWidget* parent)
    : QFrame(parent), id_(id), name_(name), head_(new QToolButton(this)), value_(new QLabel(this)), body_(new QWidget(this)) {
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
  connect(head_, &QToolButton::clicked, this, &PageFrame::toggled);
}

void PageFrame::setValue(const QString& words) {
  value_->setText(words);
}

void PageFrame::setOpen(bool open) {
  if (open == open_) return;
  open_ = open;
  body_->setVisible(open);
  head_->setFont(theme::font(theme::Size::normal, open));
  update();
}

void PageFrame::resizeEvent(QResizeEvent* event) {
  QFrame::resizeEvent(event);
  if (open_ && event->size().height() > event->oldSize().height()) emit grew();
}

void PageFrame::mousePressEvent(QMouseEvent* event) {
  if (event->position().y() < 34) emit toggled();
}

void PageFrame::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(theme::colours().raised);
  p.drawRoundedRect(rect(), 5, 5);
  if (!open_) return;
  // The thread that holds an open page.
  QPen thread(theme::colours().blue, 2);
  thread.setDashPattern({3, 2});
  p.setPen(thread);
  p.drawLine(3, 8, 3, height() - 8);
}

PageList::PageList(QWidget* parent) : QWidget(parent), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(6);
}

void PageList::heading(const QString& words) {
  auto* label = new QLabel(words);
  label->setProperty("quiet", true);
  label->setContentsMargins(2, pages_.empty() ? 0 : 6, 0, 0);
  column_->addWidget(label);
}

PageFrame* PageList::add(const char* id, const QString& name, const QString& tip) {
  auto* page = new PageFrame(QLatin1String(id), name, tip, this);
  column_->addWidget(page);
  pages_.push_back(page);
  connect(page, &PageFrame::toggled, this, [this, page] { open(page->isOpen() ? nullptr : page); });
  connect(page, &PageFrame::grew, this, &PageList::currentGrew);
  return page;
}

void PageList::open(PageFrame* page) {
  for (PageFrame* p : pages_) p->setOpen(p == page);
  emit currentChanged();
}

PageFrame* PageList::find(const QString& id) const {
  const auto at = std::find_if(pages_.begin(), pages_.end(), [&](const PageFrame* p) { return p->id() == id; });
  return at == pages_.end() ? nullptr : *at;
}

void PageList::open(const QString& id) {
  PageFrame* page = find(id);
  Q_ASSERT(page);
  if (page) open(page);
}

PageFrame* PageList::current() const {
  for (PageFrame* p : pages_) {
    if (p->isOpen()) return p;
  }
  return nullptr;
}

void PageList::keepOpenSeenIn(QScrollArea* area) {
  const auto show = [this, area] {
    QTimer::singleShot(0, area, [this, area] {
      PageFrame* open = current();
      if (!open) return;
      if (open->height() > area->viewport()->height())
        area->verticalScrollBar()->setValue(open->mapTo(area->widget(), QPoint()).y());
      else
        area->ensureWidgetVisible(open, 0, 0);
    });
  };
  connect(this, &PageList::currentChanged, area, show);
  connect(this, &PageList::currentGrew, area, show);
}

}  // namespace hseam::app
