#pragma once

#include "app/stations/findings_pleat.h"
#include "app/stations/fresh_eyes.h"
#include "app/stations/monitor.h"
#include "app/stations/reference.h"
#include "app/stations/small_among.h"
#include "app/stations/station.h"

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
  void refresh() override;
  NextStep nextStep() const override;
  std::pair<RunOfWork::Stitch, QString> state() const override;
  bool mirrored() const;
  /// The scene left of the curtain; nothing while the curtain is away.
  std::optional<scene::Scene> before() const;
  Reference& reference() { return *reference_; }
  Monitor& monitor() { return *monitor_; }
  Watch& watch() { return watch_; }
  FindingsPleat& findings() { return *findings_; }
  FreshEyes& freshEyes() { return *fresh_; }

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  Watch watch_;
  FindingsPleat* findings_;
  Pleat* findingsPleat_;
  QButtonGroup* eyes_;
  QCheckBox *mirror_, *curtain_;
  SmallAmong* small_;
  FreshEyes* fresh_;
  Pleat* freshPleat_;
  Reference* reference_;
  Monitor* monitor_;
};

}  // namespace hseam::app
