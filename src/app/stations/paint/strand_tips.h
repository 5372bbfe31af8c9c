#pragma once

#include <QWidget>

#include "app/document/messages.h"
#include "app/document/session.h"
#include "app/instruments/brush.h"
#include "app/widgets/value_field.h"
#include "core/paint/strand_stroke.h"

class QComboBox;

namespace hseam::app {

/// Which tip paints the mask: the round one, or one shaped like what grows, with how it lies and varies.
class StrandTips : public QWidget {
  Q_OBJECT

 public:
  explicit StrandTips(Session& session, Messages& messages, QWidget* parent = nullptr);
  bool round() const;
  /// A stroke with the chosen tip, as Brush::makeDrawing wants it.
  std::unique_ptr<paint::Drawing> drawing(const Brush::Target& target, std::uint8_t value, paint::Pressure pressure);
  double lengthPx() const { return length_->value(); }
  void setLengthPx(double px) { length_->setValue(px); }

 signals:
  void changed();
  void extendAsked();

 private:
  enum Kind { kRound, kHair, kFur, kGrass, kLeaves, kWool, kFromFile, kFromSelection };
  enum Lies { kOutwards, kAlong, kAsHair };
  void choose(int kind);
  void readTip();
  bool tipFromSelection();
  std::vector<paint::StrandTip> tips() const;

  Session& session_;
  Messages& messages_;
  QComboBox *kind_, *lies_;
  QWidget* more_;
  ValueField *length_, *strength_, *spacing_, *size_, *angle_, *haze_, *seed_;
  image::Raster<std::uint8_t> own_;
};

}  // namespace hseam::app
