#pragma once

#include "app/stations/look_over/compare_with.h"
#include "app/stations/look_over/findings_page.h"
#include "app/stations/look_over/fresh_eyes.h"
#include "app/stations/look_over/heat_view.h"
#include "app/stations/look_over/monitor.h"
#include "app/stations/look_over/on_paper.h"
#include "app/stations/look_over/other_eyes.h"
#include "app/stations/look_over/reference.h"
#include "app/stations/look_over/tolerances.h"
#include "app/stations/station.h"

namespace hseam::app {

class LookOver : public Station {
  Q_OBJECT

 public:
  explicit LookOver(Desk& desk);
  QString name() const override { return tr("Look over"); }
  View view() const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  void refresh() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  bool mirrored() const;
  /// The scene left of the curtain; nothing while the curtain is away.
  std::optional<scene::Scene> before() const;
  Reference& reference() { return *reference_; }
  Monitor& monitor() { return *monitor_; }
  OnPaper& onPaper() { return *paper_; }
  /// What shown colours go through: the proof while this station is open, else the monitor's profile; null: nothing.
  const std::shared_ptr<const image::DisplayTransform>& display() const;
  Watch& watch() { return watch_; }
  FindingsPage& findings() { return *findings_; }
  FreshEyes& freshEyes() { return *fresh_; }
  const HeatView& heat() const { return heat_; }

 signals:
  void shownOrHidden();
  /// A question is to be answered on this page of Place.
  void placeAsked(const QString& page);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  std::optional<NextStep> question() const;

  Watch watch_;
  HeatView heat_;
  FindingsPage* findings_;
  OtherEyes* eyes_;
  FreshEyes* fresh_;
  Reference* reference_;
  Monitor* monitor_;
  OnPaper* paper_;
  bool open_ = false;
};

}  // namespace hseam::app
