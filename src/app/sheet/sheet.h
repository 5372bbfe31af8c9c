#pragma once

#include <QImage>
#include <QStringList>
#include <map>
#include <set>
#include <vector>

#include "app/document/lane.h"
#include "app/document/session.h"

class QVBoxLayout;

namespace hseam::app {

class Card;

/// The scene as stacked paper, front on top. The active card is unfolded.
class Sheet : public QWidget {
  Q_OBJECT

 public:
  explicit Sheet(Session& session, Lane& aside, QWidget* parent = nullptr);
  const std::vector<scene::LayerId>& ghosts() const { return ghosts_; }
  /// Moves the active layer one place towards the front (+1) or the back (−1).
  void moveActive(int by);
  void removeActive();
  void duplicateActive();
  void renameActive();
  /// Chooses the layer above (+1) or below (−1) the active one.
  void stepActive(int by);
  /// Takes the next layer in front (+1) or behind (−1) that is not in hand yet in hand too.
  void holdNext(int by);
  /// How many findings there are about each layer; their cards say so.
  void setFindings(std::map<scene::LayerId, int> counts);
  /// Draws all cards anew, for another look.
  void renew();

 signals:
  void ghostsChanged();
  void addPicturesAsked();

 private:
  void refresh();
  void rebuild();
  void askForThumbnail(const scene::LayerRef& layer);
  void addCards(const std::vector<scene::LayerRef>& layers, int depth);
  Session& session_;
  Lane& aside_;
  QWidget* stack_;
  QVBoxLayout* column_;
  std::vector<scene::LayerId> ghosts_;
  struct Thumbnail {
    scene::LayerRef of;  // asked for
    QImage image;        // of it or of what the layer was before
  };
  std::map<scene::LayerId, Thumbnail> thumbnails_;
  std::map<scene::LayerId, int> findings_;
  QStringList faces_;      // what the cards say: while it stays, so do they
  std::set<Card*> cards_;  // those that stand in the sheet now
};

}  // namespace hseam::app
