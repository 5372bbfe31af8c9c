#pragma once

#include <QImage>

#include "app/instruments/outline_tool.h"
#include "app/stations/page.h"
#include "core/repair/copied_from.h"
#include "core/repair/structure_line.h"

class QCheckBox;
class QHBoxLayout;
class QPushButton;
class QToolButton;

namespace hseam::app {

class ValueField;

/// What is selected disappears: its surroundings go on over it, on a layer of their own. The picture itself stays as it is. Lines
/// drawn across it go on; two candidates are made, and more on request.
class TakeOut : public Page {
  Q_OBJECT

 public:
  explicit TakeOut(Desk& desk);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &line_; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;

 private:
  struct Candidate {
    image::TiledImage picture, mask;
    QImage small;                            // of the place and what is round it
    std::vector<repair::CopiedFrom> pieces;  // px of the picture
    QToolButton* button;
  };
  /// show: the scene gets it; else it is only offered.
  void fill(std::uint32_t seed, bool show);
  void offer(Candidate made, bool show);
  void put(std::size_t candidate);
  void drawPieces(QPainter& painter, const QTransform& toWidget) const;
  void forget();
  std::vector<repair::StructureLine> linesOn(const scene::PictureContent& picture) const;
  /// The active layer, or the picture under it if the active one is what was filled last.
  const scene::Layer* filledFrom() const;

  OutlineTool line_;
  std::vector<QPolygonF> lines_;  // px of the scene
  ValueField* wider_;
  QPushButton *fill_, *another_, *noLines_;
  QWidget* offered_;
  QHBoxLayout* row_;
  QCheckBox* pieces_;
  std::size_t shown_ = 0;  // of the candidates
  std::vector<Candidate> candidates_;
  scene::LayerId made_, madeFrom_;  // the last fill and its picture
  std::uint32_t seed_ = 1;
};

}  // namespace hseam::app
