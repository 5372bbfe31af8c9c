#include "app/stations/page.h"

#include <QVBoxLayout>

namespace hseam::app {

Page::Page(Desk& desk, About about) : desk_(desk), about_(std::move(about)) {}

QVBoxLayout* Page::column() {
  constexpr int kGap = 6;
  auto* c = new QVBoxLayout(this);
  c->setContentsMargins(0, 0, 0, 0);
  c->setSpacing(kGap);
  return c;
}

const scene::PictureContent* Page::activePicture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

const scene::PictureContent* Page::shownPicture() const {
  const scene::Layer* l = scene::findLayer(desk_.session.shown(), desk_.session.active());
  return l ? l->picture() : nullptr;
}

QString Page::activeName() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? QString::fromStdString(l->name) : QString();
}

}  // namespace hseam::app
