#pragma once

#include "app/instruments/brush.h"
#include "app/stations/cut_out/selecting_page.h"
#include "app/stations/places.h"
#include "app/widgets/value_field.h"

namespace hseam::app {

/// The undecided band: found from the picture, or laid along the selection; painted by hand.
class BandPage : public SelectingPage {
  Q_OBJECT

 public:
  explicit BandPage(Desk& desk);
  QString words() const override;
  Instrument* instrument() override { return &brush_; }
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  void refresh() override;
  void find();
  void lay();
  /// The next place where the picture's edge lies beyond the band. False: there is none.
  bool stepMissed(int by) { return missed_->step(by); }

 signals:
  void placeAsked(QRectF place);

 private:
  std::optional<Brush::Target> target() const;
  void showMissed(std::vector<base::Rect> places);

  Brush brush_;
  ValueField *width_, *tip_;
  Places* missed_;
  std::uint64_t missedOf_ = 0;  // the selection's stamp
  LabelOverlay bandOverlay_;
};

}  // namespace hseam::app
