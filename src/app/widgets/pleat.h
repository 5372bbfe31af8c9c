#pragma once

#include <QFrame>
#include <functional>
#include <vector>

class QLabel;
class QToolButton;
class QVBoxLayout;

namespace hseam::app {

/// One instrument of the bench: a line with its name and value, unfolded when it is in hand.
class Pleat : public QFrame {
  Q_OBJECT

 public:
  Pleat(const QString& name, const QString& tip, QWidget* parent = nullptr);
  const QString& name() const { return name_; }
  QVBoxLayout* content() { return content_; }
  /// The words at the right of the line: "24 px", "0.8 s ago".
  void setValue(const QString& words);
  bool isOpen() const { return open_; }
  void setOpen(bool open);

 signals:
  void toggled();

 protected:
  void mousePressEvent(QMouseEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  QString name_;
  QToolButton* head_;
  QLabel* value_;
  QWidget* body_;
  QVBoxLayout* content_;
  bool open_ = false;
};

/// A column of pleats of which at most one is open.
class Pleats : public QWidget {
  Q_OBJECT

 public:
  explicit Pleats(QWidget* parent = nullptr);
  Pleat* add(const QString& name, const QString& tip);
  void open(Pleat* pleat);
  Pleat* current() const;
  const std::vector<Pleat*>& all() const { return pleats_; }

 signals:
  void currentChanged();

 private:
  QVBoxLayout* column_;
  std::vector<Pleat*> pleats_;
};

}  // namespace hseam::app
