#include "app/sheet/sheet.h"

#include <QApplication>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/sheet/card.h"
#include "app/theme/sign.h"
#include "app/widgets/builders.h"

namespace hseam::app {

Sheet::Sheet(Session& session, Lane& aside, QWidget* parent)
    : QWidget(parent), session_(session), aside_(aside), stack_(new QWidget) {
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(10, 10, 4, 10);
  outer->setSpacing(6);
  outer->addWidget(quietLabel(tr("Sheet, front to back")));
  column_ = new QVBoxLayout(stack_);
  column_->setContentsMargins(0, 0, 6, 0);
  column_->setSpacing(0);
  outer->addWidget(tallRoom(stack_), 1);
  auto* add = button(tr("Add pictures…"), tr("Bring photographs into the scene (Ctrl+I)"), [this] { emit addPicturesAsked(); });
  add->setIcon(theme::sign("add"));
  outer->addWidget(add);
  setFixedWidth(252);
  setAccessibleName(tr("Sheet of layers"));
  connect(&session_, &Session::replaced, this, [this] {
    thumbnails_.clear();
    faces_.clear();
  });
  connect(&session_, &Session::historyChanged, this, &Sheet::refresh);
  connect(&session_, &Session::activeChanged, this, &Sheet::refresh);
  refresh();
}

// Most Edits change no card's words: then the cards stay, and only their pictures follow.
void Sheet::refresh() {
  const auto all = scene::allLayers(session_.scene());
  QStringList faces;
  for (const auto& l : all) {
    const auto at = scene::positionOf(session_.scene(), l->id);
    faces << QStringLiteral("%1 %2 %3 %4 %5 %6 %7")
                 .arg(l->id.value)
                 .arg(at->parent.value)
                 .arg(QString::fromStdString(l->name), wordsFor(*l))
                 .arg(l->hidden)
                 .arg(l->clip)
                 .arg(l->locked);
  }
  faces << QStringLiteral("in hand");  // never an empty list: that is what a new document begins with
  for (const scene::LayerId id : session_.inHand()) faces << QString::number(id.value);
  if (faces != faces_) {
    faces_ = faces;
    rebuild();
    return;
  }
  for (Card* card : cards_) {
    const auto now = std::find_if(all.begin(), all.end(), [&](const scene::LayerRef& l) { return l->id == card->layer()->id; });
    if (*now == card->layer()) continue;
    card->setLayer(*now);
    askForThumbnail(*now);
  }
}

void Sheet::rebuild() {
  // Cards are made anew, but who works by keyboard stays on the control that was used.
  const auto* focused = qobject_cast<const QAbstractButton*>(QApplication::focusWidget());
  const QString focusedName = focused && stack_->isAncestorOf(focused) ? focused->text() : QString();
  cards_.clear();
  // Not hidden before it goes: the keyboard's focus would go elsewhere.
  while (QLayoutItem* item = column_->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  std::erase_if(ghosts_, [this](scene::LayerId id) { return !scene::findLayer(session_.scene(), id); });
  std::erase_if(thumbnails_, [this](const auto& t) { return !scene::findLayer(session_.scene(), t.first); });
  addCards(session_.scene().layers, 0);
  if (session_.scene().layers.empty()) {
    column_->addWidget(
        quietLabel(tr("No layers yet.\n\nDrop photographs onto the middle of the window, or use the button below. The first one "
                      "gives the scene its size.")));
  }
  column_->addStretch(1);
  if (focusedName.isEmpty()) return;
  for (const Card* card : cards_) {
    for (QAbstractButton* b : card->findChildren<QAbstractButton*>()) {
      if (b->text() == focusedName) b->setFocus(Qt::OtherFocusReason);
    }
  }
}

void Sheet::addCards(const std::vector<scene::LayerRef>& layers, int depth) {
  for (std::size_t i = layers.size(); i-- > 0;) {
    const scene::LayerRef& l = layers[i];
    const bool ghost = std::find(ghosts_.begin(), ghosts_.end(), l->id) != ghosts_.end();
    const auto setGhost = [this, id = l->id](bool on) {
      std::erase(ghosts_, id);
      if (on) ghosts_.push_back(id);
      emit ghostsChanged();
    };
    auto* card =
        new Card(session_, l, thumbnails_[l->id].image, depth, l->id == session_.active(), ghost,
                 {[this](int by) { moveActive(by); }, [this] { removeActive(); }, [this] { duplicateActive(); }, setGhost});
    if (const auto found = findings_.find(l->id); found != findings_.end()) card->setFindings(found->second);
    column_->addWidget(card);
    cards_.insert(card);
    if (thumbnails_[l->id].of != l) askForThumbnail(l);
    if (const auto* g = l->group()) addCards(g->layers, depth + 1);
  }
}

void Sheet::setFindings(std::map<scene::LayerId, int> counts) {
  findings_ = std::move(counts);
  for (Card* card : cards_) {
    const auto found = findings_.find(card->layer()->id);
    card->setFindings(found == findings_.end() ? 0 : found->second);
  }
}

// Until the new one comes the layer keeps the picture it had.
void Sheet::askForThumbnail(const scene::LayerRef& layer) {
  thumbnails_[layer->id].of = layer;
  aside_.ask<QImage>(
      QStringLiteral("thumbnail %1").arg(layer->id.value), [layer] { return thumbnailOf(*layer); },
      [this, layer](const QImage& image) {
        thumbnails_[layer->id].image = image;
        for (Card* card : cards_) {
          if (card->layer()->id == layer->id) card->setThumbnail(image);
        }
      });
}

void Sheet::moveActive(int by) {
  const auto at = scene::positionOf(session_.scene(), session_.active());
  if (!at) return;
  const scene::Layer* parent = scene::findLayer(session_.scene(), at->parent);
  const int count = int(parent ? parent->group()->layers.size() : session_.scene().layers.size());
  const int to = at->index + by;
  if (to >= 0 && to < count) session_.apply(scene::MoveLayer{session_.active(), at->parent, to});
}

void Sheet::removeActive() {
  const auto held = session_.inHand();
  if (held.empty()) return;
  if (held.size() == 1) {
    session_.apply(scene::RemoveLayer{held[0]});
    return;
  }
  scene::Several all{"take out " + std::to_string(held.size()) + " layers", {}};
  for (const scene::LayerId id : held) {
    // One that goes with its group needs no word of its own.
    const auto at = scene::positionOf(session_.scene(), id);
    if (at && std::find(held.begin(), held.end(), at->parent) == held.end()) all.edits.push_back({scene::RemoveLayer{id}});
  }
  session_.apply(all);
}

void Sheet::duplicateActive() {
  const auto at = scene::positionOf(session_.scene(), session_.active());
  if (at) session_.apply(scene::AddLayer{scene::duplicate(session_.scene(), *session_.activeLayer()), at->parent, at->index + 1});
}

void Sheet::renameActive() {
  for (Card* card : cards_) {
    if (card->layer()->id != session_.active()) continue;
    card->rename();
    return;
  }
}

void Sheet::holdNext(int by) {
  const auto all = scene::allLayers(session_.scene());
  const auto held = session_.inHand();
  auto at = long(std::find_if(all.begin(), all.end(), [this](const scene::LayerRef& l) { return l->id == session_.active(); }) -
                 all.begin());
  for (at += by; at >= 0 && at < long(all.size()); at += by) {
    const scene::LayerId id = all[std::size_t(at)]->id;
    if (std::find(held.begin(), held.end(), id) != held.end()) continue;
    session_.toggleInHand(id);
    return;
  }
}

void Sheet::renew() {
  thumbnails_.clear();
  rebuild();
}

void Sheet::stepActive(int by) {
  const auto all = scene::allLayers(session_.scene());
  const auto here = std::find_if(all.begin(), all.end(), [this](const scene::LayerRef& l) { return l->id == session_.active(); });
  const long to = here - all.begin() + by;
  if (to >= 0 && to < long(all.size())) session_.setActive(all[std::size_t(to)]->id);
}

}  // namespace hseam::app
