#pragma once

#include "app/stations/adjust_editors.h"
#include "app/stations/carry_over.h"
#include "app/stations/fills.h"
#include "app/stations/lights.h"
#include "app/stations/looks.h"
#include "app/stations/mask_parts.h"
#include "app/stations/paint_colour.h"
#include "app/stations/paint_mask.h"
#include "app/stations/station.h"
#include "app/stations/words.h"
#include "app/widgets/tone_patch.h"
#include "app/widgets/value_field.h"

class QComboBox;

namespace hseam::app {

class Match : public Station {
  Q_OBJECT

 public:
  explicit Match(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Match"); }
  View view() const override;
  Instrument* instrument() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  void refresh() override;
  void openPaint() { pleats_->open(paintPleat_); }
  /// Puts a new adjustment in front of the active layer, confined to it or not.
  void add(const scene::Adjustment& adjustment, bool confined);

 private:
  void buildBlend();
  void buildAdd();
  void buildAdjust();
  bool hasConfined() const;

  Pleat *blendPleat_, *addPleat_, *adjustPleat_, *lightsPleat_, *fillsPleat_, *paintPleat_, *carryPleat_, *partsPleat_,
      *wordsPleat_, *colourPleat_, *looksPleat_;
  QComboBox* mode_;
  ValueField* opacity_;
  AdjustEditors* editors_;
  Lights* lights_;
  Fills* fills_;
  PaintMask* paint_;
  CarryOver* carry_;
  MaskParts* parts_;
  Words* words_;
  PaintColour* paintColour_;
  Looks* looks_;
  TonePatch* tones_;
};

}  // namespace hseam::app
