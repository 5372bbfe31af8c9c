#pragma once

#include "app/stations/page.h"

#include "app/document/watch.h"
#include "app/instruments/knots_tool.h"
#include "app/stations/look_over/numbers_beside.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace hseam::findings {
struct Belonging;
struct BelongOptions;
}  // namespace hseam::findings

namespace hseam::app {

class DoneToIt;

/// What gives the picture away: the findings by their visibility, the chosen one with its reason, its remedies and its answers.
class FindingsPage : public Page {
  Q_OBJECT

 public:
  FindingsPage(Desk& desk, Watch& watch);
  void refresh() override;
  QString words() const override;
  Instrument* instrument() override { return &tool_; }
  /// The next finding, or the one before (−1).
  void step(int by);
  /// Writes the report; its kind by the ending: .html, .pdf, .json.
  void writeReport(const QString& path);
  int chosen() const { return chosen_; }
  const std::vector<findings::Verdict>* findings() const;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void choose(int finding);
  void build();
  QWidget* row(int index);
  QWidget* remedyButtons(const findings::Verdict& v);
  QWidget* answers(const findings::Verdict& v);
  void preview(const findings::Remedy& remedy);
  void apply(const findings::Remedy& remedy);
  void answer(const findings::Verdict& v, bool wrong);
  void belongTogether(scene::LayerId layer, const findings::BelongOptions& options);
  void showSteps(const findings::Belonging& done, scene::LayerId layer, const findings::BelongOptions& options);
  void exportReport();

  Watch& watch_;
  KnotsTool tool_;
  QLabel *told_, *tightness_;
  QWidget* outcome_;  // the steps of making a layer belong
  QVBoxLayout* steps_;
  QVBoxLayout* list_;
  QPushButton *belong_, *report_, *marks_;
  QCheckBox* ofTheScene_;
  DoneToIt* done_;
  NumbersBeside* numbers_;
  QLineEdit* reason_ = nullptr;
  std::map<QObject*, findings::Remedy> previews_;
  QObject* hovered_ = nullptr;
  int chosen_ = -1;
  std::optional<findings::KindId> chosenKind_;
  scene::LayerId chosenLayer_;
};

}  // namespace hseam::app
