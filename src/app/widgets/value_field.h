#pragma once

#include <QWidget>

class QDoubleSpinBox;
class QLabel;
class QSlider;

namespace hseam::app {

/// A number that is dragged, typed, stepped, and reset by a double click on its name.
class ValueField : public QWidget {
  Q_OBJECT

 public:
  struct Range {
    double low, high, initial;
    int decimals = 0;
    QString unit;
    bool even = true;    // false: the slider gives small values more room (low must be > 0)
    QString atLow = {};  // stands for the lowest value: "unknown"
  };
  ValueField(const QString& name, const Range& range, const QString& tip, QWidget* parent = nullptr);
  double value() const;
  /// Shows a value without telling anyone.
  void setValue(double value);
  void step(double notches);

 signals:
  void changing(double value);  // while dragging: for a draft
  void changed(double value);   // for an Edit

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  int toSlider(double value) const;
  double fromSlider(int position) const;
  Range range_;
  QLabel* label_;
  QSlider* slider_;
  QDoubleSpinBox* box_;
};

}  // namespace hseam::app
