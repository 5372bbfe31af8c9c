#pragma once

#include <QWidget>

#include "app/widgets/value_field.h"
#include "core/paint/stroke.h"

namespace hseam::app {

/// Size, hardness and strength of a round tip.
class TipFields : public QWidget {
  Q_OBJECT

 public:
  /// strengthWhy: of the strength's tooltip, "The most one stroke covers".
  TipFields(const paint::Tip& first, const QString& strengthWhy, QWidget* parent = nullptr);
  paint::Tip tip() const;
  /// Size and hardness alone: those that the wheel changes.
  void setTip(const paint::Tip& tip);

 signals:
  /// While a field is dragged, and when it was left.
  void changed();

 private:
  ValueField *size_, *hardness_, *strength_;
};

}  // namespace hseam::app
