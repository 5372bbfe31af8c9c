#pragma once

#include <QWidget>

#include "app/canvas/instrument.h"
#include "app/canvas/view.h"
#include "app/document/desk.h"

class QVBoxLayout;

namespace hseam::app {

/// A page of a station, one instrument: its controls (itself), the words of its line, what the canvas shows and what the pointer
/// does while it is open.
class Page : public QWidget {
  Q_OBJECT

 public:
  struct About {
    const char* id;     // what it is led to by: "band"; one of its station
    QString name, why;  // of its line, and the tooltip there
  };
  Page(Desk& desk, About about);
  const About& about() const { return about_; }

  /// At the right of its line: "24 px", "not yet".
  virtual QString words() const { return {}; }
  /// Null: the pointer does nothing of its own.
  virtual Instrument* instrument() { return nullptr; }
  /// What the canvas shows otherwise while it is open.
  virtual void changeView(View&) const {}
  /// Over the picture while it is open.
  virtual void paintOver(QPainter&, const QTransform& /*toWidget*/, const QRect& /*widget*/) {}
  /// What the middle of the window shows instead of the canvas while it is open; null: the canvas. Always the same one; the
  /// window takes it over, and says its accessible description as what is being done.
  virtual QWidget* middle() { return nullptr; }
  /// The scene has changed, another layer is active, or it was opened: show it in the controls.
  virtual void refresh() {}
  /// True: refreshing costs too much to be done while it is not open.
  virtual bool onlyWhileOpen() const { return false; }

 signals:
  void changed();    // what it shows, its instrument or its words
  void openAsked();  // what it has done is to be seen

 protected:
  /// For its controls, one below the other.
  QVBoxLayout* column();
  /// The picture of the active layer; null if it has none.
  const scene::PictureContent* activePicture() const;
  /// The same as it is shown, with what is being drawn.
  const scene::PictureContent* shownPicture() const;
  QString activeName() const;
  Desk& desk_;

 private:
  About about_;
};

}  // namespace hseam::app
