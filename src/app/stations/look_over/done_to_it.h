#pragma once

#include <QWidget>

#include "app/document/session.h"

class QLabel;
class QVBoxLayout;

namespace hseam::app {

class ValueField;

/// What was done to the active picture to make it belong: the adjustments confined to it, the shadows and lights that it casts,
/// and what adjusts the scene behind it for its sake. Each can be weakened, or taken out, at any time.
class DoneToIt : public QWidget {
  Q_OBJECT

 public:
  explicit DoneToIt(Session& session, QWidget* parent = nullptr);
  void refresh();

 private:
  void build(const std::vector<scene::LayerId>& layers);

  Session& session_;
  QLabel* title_;
  QVBoxLayout* rows_;
  std::vector<std::pair<scene::LayerId, ValueField*>> fields_;
};

}  // namespace hseam::app
