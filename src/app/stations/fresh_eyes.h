#pragma once

#include <QWidget>
#include <memory>
#include <optional>

#include "app/document/desk.h"

class QCheckBox;
class QLabel;
class QVBoxLayout;

namespace hseam::app {

/// Earlier visits to the picture: what was done since, and the picture as it was then beside the one of now.
class FreshEyes : public QWidget {
  Q_OBJECT

 public:
  explicit FreshEyes(Desk& desk, QWidget* parent = nullptr);
  void refresh();
  QString words() const;
  /// The scene at the end of the chosen visit, if it is to be left of the curtain.
  std::optional<scene::Scene> behindCurtain() const;
  /// The same, if the difference to it is to be seen; null if not.
  std::shared_ptr<const scene::Scene> against() const;
  /// A sentence about what was done since the visit before this one; empty if there was none.
  QString sinceLastVisit() const;

 signals:
  void changed();
  /// The picture is to be seen mirrored for a moment.
  void lookAnew();

 private:
  void build();
  std::shared_ptr<const scene::Scene> chosenScene() const;
  Desk& desk_;
  QVBoxLayout* rows_;
  QLabel *first_, *done_;
  QCheckBox *curtain_, *difference_, *remind_;
  int chosen_ = -1;  // step of the history at whose end it is looked back at; −1: none
  int builtCount_ = -1, builtCurrent_ = -1;
  mutable std::shared_ptr<const scene::Scene> chosenScene_;  // of the step chosenSceneStep_
  mutable int chosenSceneStep_ = -1;
};

}  // namespace hseam::app
