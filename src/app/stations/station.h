#pragma once

#include <QWidget>
#include <functional>

#include "app/stations/page.h"
#include "app/widgets/builders.h"
#include "app/widgets/page_list.h"
#include "app/widgets/run_of_work.h"

namespace hseam::app {

/// The next most useful step, shown on top of the bench.
struct NextStep {
  QString what;    // "Guess the subject"
  QString why;     // one or two sentences
  QString button;  // empty: nothing to press
  std::function<void()> act;
};

/// Their order on the run of work.
enum StationIndex { kGather, kCutOut, kPlace, kMatch, kLookOver, kHandOver };

/// One of the six stations: a list of pages. What the canvas shows and what the pointer does is that of the open page, unless the
/// station says otherwise.
class Station : public QWidget {
  Q_OBJECT

 public:
  explicit Station(Desk& desk);
  virtual QString name() const = 0;
  virtual View view() const;
  virtual Instrument* instrument();
  virtual NextStep nextStep() const = 0;
  /// State and words of its tab.
  virtual std::pair<RunOfWork::Stitch, QString> state() const = 0;
  /// Of the open page; null: the canvas.
  QWidget* middle() const;
  /// Over the picture: selections, bands.
  virtual void paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget);
  /// The scene has changed, another layer is active, or the station was opened: its pages and the words of their lines.
  virtual void refresh();
  PageList* pages() { return list_; }
  void openPage(const QString& id) { list_->open(id); }

 signals:
  void changed();                  // view, instrument, words or next step
  void stationAsked(int station);  // the next step is taken elsewhere

 protected:
  void heading(const QString& words) { list_->heading(words); }
  template <class P>
  P* add(P* page) {
    addPage(page);
    return page;
  }
  /// Null: all are folded.
  Page* currentPage() const;
  const scene::PictureContent* activePicture() const;
  QString activeName() const;
  /// A step whose button leads to another station.
  NextStep onTo(StationIndex station, const QString& what, const QString& why, const QString& button) const;
  Desk& desk_;

 private:
  void addPage(Page* page);
  PageList* list_;
  std::vector<std::pair<PageFrame*, Page*>> all_;
};

}  // namespace hseam::app
