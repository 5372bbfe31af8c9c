#pragma once

#include <QWidget>
#include <vector>

#include "core/scene/permission.h"

class QLabel;
class QLineEdit;

namespace hseam::app {

/// Lists what stands against handing a scene over, and asks for a typed word. Hidden while nothing does.
class PermissionQuestion : public QWidget {
  Q_OBJECT

 public:
  explicit PermissionQuestion(QWidget* parent = nullptr);
  /// Of the scene as it is; what was typed for another list does not count any more.
  void ask(const scene::Scene& scene);
  /// Nothing stands against it, or the word was typed.
  bool answered() const;
  /// To be called when a file has been written: what was confirmed goes into the log.
  void handedOver(const QString& file);
  /// The word must be typed again.
  void askAgain();

 signals:
  void changed();

 private:
  std::vector<scene::UnclearPermission> unclear_;
  QLabel* list_;
  QLineEdit* word_;
};

}  // namespace hseam::app
