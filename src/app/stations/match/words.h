#pragma once

#include "app/stations/page.h"

#include "app/canvas/instrument.h"
#include "app/widgets/value_field.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;

namespace hseam::app {

/// Drags words over the picture.
class WordsTool : public Instrument {
 public:
  explicit WordsTool(std::function<void(QPointF by, bool keep)> move) : moveBy_(std::move(move)) {}
  void press(const Touch& touch) override { from_ = touch.at, held_ = touch.button == Qt::LeftButton; }
  void move(const Touch& touch) override {
    if (held_) moveBy_(touch.at - from_, false);
  }
  void release(const Touch& touch) override {
    if (held_) moveBy_(touch.at - from_, true);
    held_ = false;
  }
  void cancel() override {
    if (held_) moveBy_({}, false);
    held_ = false;
  }
  bool nudge(double dx, double dy) override {
    moveBy_({dx, dy}, true);
    return true;
  }
  QString doing() const override { return QObject::tr("drag the words to where they stand, arrows nudge"); }

 private:
  std::function<void(QPointF, bool)> moveBy_;
  QPointF from_;
  bool held_ = false;
};

/// The page of titles and captions: words as a layer that stays words.
class Words : public Page {
  Q_OBJECT

 public:
  explicit Words(Desk& desk);
  void refresh() override;
  QString words() const override;
  /// Null: no words are in hand.
  Instrument* instrument() override { return active() ? &tool_ : nullptr; }

 private:
  const text::Lettering* active() const;
  void add();
  void edit(const std::function<void(text::Lettering&)>& change, bool keep);
  ValueField* field(const QString& name, const ValueField::Range& range, const QString& tip, double text::Lettering::*member);
  void showStyles(const QString& family);

  WordsTool tool_;
  QWidget* page_;
  QPlainTextEdit* words_;
  QComboBox *family_, *style_, *align_;
  ValueField *size_, *tracking_, *leading_;
  QPushButton *colour_, *along_;
  QLabel* told_;
};

}  // namespace hseam::app
