#pragma once

#include <QFrame>
#include <functional>

#include "app/document/session.h"

class QLabel;

namespace hseam::app {

/// One layer as a sheet of paper: how it looks, its name, what it does in words. Unfolded if it is the active one.
class Card : public QFrame {
  Q_OBJECT

 public:
  struct Acts {
    std::function<void(int)> move;
    std::function<void()> remove, duplicate;
    std::function<void(bool)> ghost;
  };
  Card(Session& session, const scene::LayerRef& layer, const QImage& thumbnail, int depth, bool active, bool ghost, Acts acts,
       QWidget* parent = nullptr);
  const scene::LayerRef& layer() const { return layer_; }
  /// The same layer after an Edit that changes nothing the card says.
  void setLayer(const scene::LayerRef& layer) { layer_ = layer; }
  /// Asks for another name.
  void rename();
  void setThumbnail(const QImage& thumbnail);
  /// How many findings there are about it: a knot with their number; 0: none.
  void setFindings(int count);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;

 private:
  void buildUnfolded(bool ghost);
  Session& session_;
  scene::LayerRef layer_;
  int depth_;
  bool active_;
  int findings_ = 0;
  Acts acts_;
  QLabel* thumb_ = nullptr;  // none on a folded card
};

/// What a layer does, in words: "multiply 64 %, cut-out".
QString wordsFor(const scene::Layer& layer);

/// A small picture of the layer as it appears, two px a dot; a drawing for adjustments and groups. Any thread.
QImage thumbnailOf(const scene::Layer& layer);

}  // namespace hseam::app
