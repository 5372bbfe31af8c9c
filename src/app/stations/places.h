#pragma once
// Places of a picture that want a look, one after another.

#include <QLabel>
#include <QPushButton>
#include <QRectF>
#include <QWidget>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::app {

/// A sentence and a button that goes to the next place; hidden while there is none.
class Places : public QWidget {
  Q_OBJECT
 public:
  /// What is the matter with one place, and with %1 of them; the button's tooltip.
  struct Words {
    QString one, many, tip;
  };
  Places(Words words, QWidget* parent = nullptr);
  /// px of the picture.
  void set(std::vector<base::Rect> places);
  /// Which is looked at; -1: none yet.
  int current() const { return at_; }
  int count() const { return int(places_.size()); }
  /// by: 1 or -1, round and round. False: there is none.
  bool step(int by);

 signals:
  void asked(const QRectF& place);

 private:
  void showWords();
  Words words_;
  QLabel* said_;
  std::vector<base::Rect> places_;
  int at_ = -1;
};

}  // namespace hseam::app
