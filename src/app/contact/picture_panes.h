#pragma once

#include <QImage>
#include <QThreadPool>
#include <QWidget>
#include <vector>

namespace hseam::app {

/// One to four pictures beside one another, with one zoom and one place for all: what drifts between them shows. Wheel: zoom;
/// drag: move. The zoom stays when the pictures are changed.
class PicturePanes : public QWidget {
  Q_OBJECT

 public:
  static constexpr int kMost = 4;
  explicit PicturePanes(QWidget* parent = nullptr);
  ~PicturePanes() override;
  /// At most four.
  void show(const QStringList& paths);
  QStringList paths() const;
  /// 1: the whole picture fits; the middle of what is seen, 0..1 across and down.
  double zoom() const { return zoom_; }
  QPointF middle() const { return middle_; }
  void setZoom(double zoom, QPointF middle);
  bool settled() const { return loading_ == 0; }

 signals:
  void stepAsked(int by);  // the next picture, the one before
  void closeAsked();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Pane {
    QString path, problem;
    QImage picture;
    int longest = 0;  // px that were asked for
  };
  QRectF room(std::size_t pane) const;
  QSizeF fitted(std::size_t pane) const;
  void load(std::size_t pane, int longest);
  void wantEnough();
  std::vector<Pane> panes_;
  double zoom_ = 1;
  QPointF middle_{0.5, 0.5}, pressedAt_, middleThen_;
  QThreadPool pool_;
  int loading_ = 0;
};

}  // namespace hseam::app
