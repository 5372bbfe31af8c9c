#include "app/stations/places.h"

#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

Places::Places(Words words, QWidget* parent) : QWidget(parent), words_(std::move(words)), said_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  said_->setAccessibleName(tr("Places to look at"));
  column->addWidget(said_);
  column->addWidget(button(tr("Look at the next place"), words_.tip, [this] { step(1); }));
  setVisible(false);
}

void Places::set(std::vector<base::Rect> places) {
  places_ = std::move(places);
  at_ = -1;
  setVisible(!places_.empty());
  showWords();
}

bool Places::step(int by) {
  const int n = count();
  if (n == 0) return false;
  at_ = at_ < 0 ? (by > 0 ? 0 : n - 1) : (at_ + by + n) % n;
  showWords();
  const base::Rect& r = places_[std::size_t(at_)];
  emit asked(QRectF(r.x, r.y, r.width, r.height));
  return true;
}

void Places::showWords() {
  QString words = count() == 1 ? words_.one : words_.many.arg(count());
  if (at_ >= 0) words += tr(" Place %1 of %2.").arg(at_ + 1).arg(count());
  said_->setText(words);
}

}  // namespace hseam::app
