#pragma once

#include "app/canvas/label_overlay.h"
#include "app/instruments/brush.h"
#include "app/stations/gather/frame_nudge.h"
#include "app/stations/gather/frame_work.h"
#include "app/stations/page.h"
#include "app/stations/places.h"
#include "core/frames/overlaps.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace hseam::app {

class ValueField;

/// The frames of one place that the active picture is set together from, each with how it lies and whether it is of use.
class FramesPage : public Page {
  Q_OBJECT

 public:
  FramesPage(Desk& desk, FrameWork& work);
  void refresh() override;
  QString words() const override;
  void changeView(View& view) const override;
  Instrument* instrument() override { return doublesShown() ? &nudge_ : nullptr; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  std::size_t chosen() const;
  void choose();
  bool doublesShown() const;
  void askDoubled();
  FrameWork& work_;
  FrameNudge nudge_;
  QImage doubled_;  // of the chosen frame over the base; null: not yet
  QListWidget* list_;
  QLabel* told_;
  QCheckBox* doubles_;
  ValueField* step_;
  QPushButton *add_, *base_, *out_, *layers_, *settle_;
};

/// "This place from that frame", by strokes.
class PicksPage : public Page {
  Q_OBJECT

 public:
  PicksPage(Desk& desk, FrameWork& work);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &brush_; }
  void changeView(View& view) const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  /// The next place where things of two frames stand. False: there is none.
  bool stepOverlap(int by) { return places_->step(by); }

 signals:
  void placeAsked(QRectF place);

 private:
  std::optional<Brush::Target> target() const;
  std::uint8_t chosen() const;
  void lookForOverlaps();
  void showOverlap();
  void putInFront(std::size_t frame);
  FrameWork& work_;
  std::vector<frames::Overlap> overlaps_;
  std::uint64_t overlapsOf_ = 0;  // the labels' stamp
  Places* places_;
  QLabel* overlap_;
  QVBoxLayout* inFront_;  // a button for each frame that stands there
  Brush brush_;
  LabelOverlay pickOverlay_, seamOverlay_;
  QComboBox* from_;
  ValueField* size_;
  QPushButton* forget_;
};

/// The base and what light each of the other frames adds, each as strong and in such a colour as it should.
class LampsPage : public Page {
  Q_OBJECT

 public:
  LampsPage(Desk& desk, FrameWork& work);
  void refresh() override;
  QString words() const override;
  bool onlyWhileOpen() const override { return true; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  void measure();
  QString lightWords(std::size_t lamp) const;
  FrameWork& work_;
  QComboBox* way_;
  QVBoxLayout* rows_;
  QLabel* told_;
  std::vector<std::uint64_t> shownOf_;  // the frames whose rows stand
  std::vector<ValueField*> strengths_, warmths_;
  std::vector<QLabel*> lights_;
  std::shared_ptr<const frames::WhatLights> measured_;
  image::TiledImage unlit_;  // of the measured level: undecided where none of them adds light
  LabelOverlay overlay_;
  QCheckBox* hatched_;
};

}  // namespace hseam::app
