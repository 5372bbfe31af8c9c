#pragma once

#include <QWidget>
#include <vector>

namespace hseam::app {

/// The six paper tabs. A tight stitch: done; a loose one: steps left; knotted: findings.
class RunOfWork : public QWidget {
  Q_OBJECT

 public:
  enum class Stitch { none, loose, tight, knotted };
  explicit RunOfWork(const QStringList& names, QWidget* parent = nullptr);
  void setState(int tab, Stitch stitch, const QString& words);
  void setCurrent(int tab);
  int current() const { return current_; }
  QSize sizeHint() const override { return {780, 58}; }

 signals:
  void chosen(int tab);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Tab {
    QString name, words;
    Stitch stitch = Stitch::none;
  };
  QRectF place(int tab) const;
  int at(QPointF p) const;
  void drawTab(QPainter& painter, int tab) const;
  std::vector<Tab> tabs_;
  int current_ = 0, under_ = -1;
};

}  // namespace hseam::app
