#pragma once

#include "app/stations/compare_with.h"
#include "app/stations/findings_pleat.h"
#include "app/stations/fresh_eyes.h"
#include "app/stations/heat_view.h"
#include "app/stations/monitor.h"
#include "app/stations/on_paper.h"
#include "app/stations/reference.h"
#include "app/stations/small_among.h"
#include "app/stations/station.h"
#include "app/stations/tolerances.h"

class QButtonGroup;
class QCheckBox;

namespace hseam::app {

class LookOver : public Station {
  Q_OBJECT

 public:
  explicit LookOver(Desk& desk, QWidget* parent = nullptr);
  QString name() const override { return tr("Look over"); }
  View view() const override;
  Instrument* instrument() override;
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
  FindingsPleat& findings() { return *findings_; }
  FreshEyes& freshEyes() { return *fresh_; }
  const HeatView& heat() const { return heat_; }

 signals:
  void shownOrHidden();
  /// The question where the floor lies is to be answered: where it is drawn.
  void floorAsked();

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  std::optional<NextStep> question() const;

  Watch watch_;
  FindingsPleat* findings_;
  Pleat* findingsPleat_;
  QButtonGroup* eyes_;
  QCheckBox *mirror_, *curtain_;
  HeatView heat_;
  SmallAmong* small_;
  FreshEyes* fresh_;
  Pleat* freshPleat_;
  Reference* reference_;
  Monitor* monitor_;
  bool open_ = false;
  CompareWith* compare_;
  OnPaper* paper_;
  Tolerances* tolerances_;
  Pleat *comparePleat_, *paperPleat_, *tolerancesPleat_;
};

}  // namespace hseam::app
