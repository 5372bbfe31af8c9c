#pragma once

#include "app/stations/page.h"

#include "app/canvas/label_overlay.h"
#include "core/matte/earlier_cut.h"
#include "core/matte/edge_plan.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace hseam::app {

/// The page that lays the cut in hand beside an earlier one of the same layer, or a kept selection: what was lost and gained, by
/// kind of edge, and the way back for all of it or for the marked stretch alone.
class EarlierCuts : public Page {
  Q_OBJECT

 public:
  /// mark: the stretch in hand, if there is one.
  EarlierCuts(Desk& desk, std::function<std::optional<matte::MarkedStretch>()> mark);
  void refresh() override;
  QString words() const override;
  void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) override;
  /// It walks through the steps.
  bool onlyWhileOpen() const override { return true; }

 private:
  struct Earlier {
    QString name;
    matte::CutPictures cut;
    std::string recipe;
    bool selection = false;  // a kept one: it has no colours and no mask
  };
  static bool changesCuts(const std::string& kind);
  const scene::PictureContent* picture() const;
  void gather();
  const Earlier* chosen() const;
  void compare();
  void showFigures();
  void takeStretch();
  void takeAll();

  std::function<std::optional<matte::MarkedStretch>()> mark_;
  QComboBox* which_;
  QLabel* figures_;
  QPushButton *all_, *stretch_;
  std::vector<Earlier> earlier_;
  std::optional<matte::CutDifference> difference_;
  std::pair<std::uint64_t, std::uint64_t> compared_{};  // stamps before and after
  LabelOverlay overlay_;
};

}  // namespace hseam::app
