#pragma once

#include "app/stations/page.h"

#include <memory>
#include <optional>

class QCheckBox;
class QLabel;
class QVBoxLayout;

namespace hseam::app {

/// Earlier visits to the picture: what was done since, and the picture as it was then beside the one of now.
class FreshEyes : public Page {
  Q_OBJECT

 public:
  explicit FreshEyes(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// The scene at the end of the chosen visit, if it is to be left of the curtain.
  std::optional<scene::Scene> behindCurtain() const;
  /// The difference to it, if that is to be seen.
  void changeView(View& view) const override;
  /// A sentence about what was done since the visit before this one; empty if there was none.
  QString sinceLastVisit() const;

 signals:
  /// The picture is to be seen mirrored for a moment.
  void lookAnew();

 private:
  void build();
  std::shared_ptr<const scene::Scene> chosenScene() const;
  QVBoxLayout* rows_;
  QLabel *first_, *done_;
  QCheckBox *curtain_, *difference_, *remind_;
  int chosen_ = -1;  // step of the history at whose end it is looked back at; −1: none
  int builtCount_ = -1, builtCurrent_ = -1;
  mutable std::shared_ptr<const scene::Scene> chosenScene_;  // of the step chosenSceneStep_
  mutable int chosenSceneStep_ = -1;
};

}  // namespace hseam::app
