#pragma once

#include <QFrame>
#include <functional>
#include <vector>

class QLabel;
class QScrollArea;
class QToolButton;
class QVBoxLayout;

namespace hseam::app {

/// A page of the bench, one instrument: a line with its name and value, unfolded when it is in hand.
class PageFrame : public QFrame {
  Q_OBJECT

 public:
  PageFrame(const QString& id, const QString& name, const QString& tip, QWidget* parent = nullptr);
  /// What it is led to by, from keys, first steps and findings: "band". Never shown.
  const QString& id() const { return id_; }
  const QString& name() const { return name_; }
  QVBoxLayout* content() { return content_; }
  /// The words at the right of the line: "24 px", "0.8 s ago".
  void setValue(const QString& words);
  bool isOpen() const { return open_; }
  void setOpen(bool open);

 signals:
  void toggled();
  void grew();  // an open page became taller: what it says or offers has changed

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  QString id_, name_;
  QToolButton* head_;
  QLabel* value_;
  QWidget* body_;
  QVBoxLayout* content_;
  bool open_ = false;
};

/// A station's pages under their headings; at most one is open.
class PageList : public QWidget {
  Q_OBJECT

 public:
  explicit PageList(QWidget* parent = nullptr);
  /// Above the pages that are added from now on.
  void heading(const QString& words);
  PageFrame* add(const char* id, const QString& name, const QString& tip);
  /// Null: the station has none of that id.
  PageFrame* find(const QString& id) const;
  void open(PageFrame* page);
  /// An id that it has not is a mistake of the program: nothing happens, and a debug build stops.
  void open(const QString& id);
  PageFrame* current() const;
  const std::vector<PageFrame*>& all() const { return pages_; }
  /// What was unfolded, or says more now, is scrolled to once it has its height: all of it, or its beginning where it is taller.
  void keepOpenSeenIn(QScrollArea* area);

 signals:
  void currentChanged();
  void currentGrew();

 private:
  QVBoxLayout* column_;
  std::vector<PageFrame*> pages_;
};

}  // namespace hseam::app
