#include "app/stations/station.h"

#include <QVBoxLayout>

namespace hseam::app {

Station::Station(Desk& desk) : desk_(desk), list_(new PageList(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(list_);
  column->addStretch(1);
  connect(list_, &PageList::currentChanged, this, [this] {
    refresh();
    emit changed();
  });
}

void Station::addPage(Page* page) {
  PageFrame* frame = list_->add(page->about().id, page->about().name, page->about().why);
  frame->content()->addWidget(page);
  all_.push_back({frame, page});
  connect(page, &Page::changed, this, [this, frame, page] {
    frame->setValue(page->words());
    emit changed();
  });
  connect(page, &Page::openAsked, this, [this, frame] { list_->open(frame); });
}

Page* Station::currentPage() const {
  const PageFrame* open = list_->current();
  const auto at = std::find_if(all_.begin(), all_.end(), [&](const auto& p) { return p.first == open; });
  return open && at != all_.end() ? at->second : nullptr;
}

View Station::view() const {
  View v;
  if (const Page* page = currentPage()) page->changeView(v);
  return v;
}

Instrument* Station::instrument() {
  Page* page = currentPage();
  return page ? page->instrument() : nullptr;
}

QWidget* Station::middle() const {
  Page* page = currentPage();
  return page ? page->middle() : nullptr;
}

void Station::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  if (Page* page = currentPage()) page->paintOver(painter, toWidget, widget);
}

void Station::refresh() {
  const Page* open = currentPage();
  for (const auto& [frame, page] : all_) {
    if (page->onlyWhileOpen() && page != open) continue;
    page->refresh();
    frame->setValue(page->words());
  }
}

NextStep Station::onTo(StationIndex station, const QString& what, const QString& why, const QString& button) const {
  return {what, why, button, [self = const_cast<Station*>(this), station] { emit self->stationAsked(station); }};
}

const scene::PictureContent* Station::activePicture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

QString Station::activeName() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? QString::fromStdString(l->name) : QString();
}

}  // namespace hseam::app
