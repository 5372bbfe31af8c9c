// What stands above and below the picture: the run of work with undo and the project's name, and the line of readings.

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/first_steps.h"
#include "app/keys/keys.h"
#include "app/main_window.h"
#include "app/theme/sign.h"
#include "app/widgets/builders.h"

namespace hseam::app {

QWidget* MainWindow::buildTop() {
  auto* top = new QWidget;
  top->setFixedHeight(58);
  auto* row = new QHBoxLayout(top);
  row->setContentsMargins(0, 0, 14, 0);
  row->setSpacing(8);
  QStringList names;
  for (const Station* s : stations_) names << s->name();
  runOfWork_ = new RunOfWork(names);
  row->addWidget(runOfWork_, 1);
  undo_ = button(tr("Undo"), {}, [this] { desk_.session.undo(); });
  redo_ = button(tr("Redo"), {}, [this] { desk_.session.redo(); });
  undo_->setIcon(theme::sign("undo"));
  redo_->setIcon(theme::sign("redo"));
  row->addWidget(undo_);
  row->addWidget(redo_);
  auto* words = new QVBoxLayout;
  words->setSpacing(0);
  title_ = new QLabel;
  title_->setFont(theme::font(theme::Size::normal, true));
  kept_ = new QLabel;
  kept_->setProperty("quiet", true);
  title_->setAlignment(Qt::AlignRight | Qt::AlignBottom);
  kept_->setAlignment(Qt::AlignRight | Qt::AlignTop);
  for (QLabel* l : {title_, kept_}) {
    l->setMinimumWidth(150);
    words->addWidget(l);
  }
  row->addLayout(words);
  return top;
}

QWidget* MainWindow::buildStatus() {
  auto* bar = new QWidget;
  auto* column = new QVBoxLayout(bar);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  notice_ = new QFrame;
  notice_->setProperty("notice", true);
  auto* n = new QHBoxLayout(notice_);
  n->setContentsMargins(16, 6, 16, 6);
  noticeText_ = new QLabel;
  noticeText_->setProperty("warn", true);
  noticeText_->setWordWrap(true);
  n->addWidget(noticeText_, 1);
  n->addWidget(button(tr("Understood"), tr("Put this message away"), [this] { notice_->hide(); }));
  notice_->hide();
  column->addWidget(notice_);
  auto* line = new QWidget;
  line->setFixedHeight(28);
  auto* row = new QHBoxLayout(line);
  row->setContentsMargins(16, 0, 16, 0);
  reading_ = quietLabel({});
  reading_->setWordWrap(false);
  reading_->setMinimumWidth(330);
  reading_->setAccessibleName(tr("Reading under the pointer"));
  doing_ = new QLabel;
  doing_->setAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  doing_->setAccessibleName(tr("What the pointer does"));
  zoom_ = quietLabel({});
  zoom_->setWordWrap(false);
  row->addWidget(reading_);
  row->addWidget(doing_, 1);
  const auto corner = [&](const char* sign, const QString& text, const QString& tip, const std::function<void()>& act) {
    QPushButton* b = button(text, tip, act);
    b->setIcon(theme::sign(sign));
    b->setStyleSheet(QStringLiteral("padding:0 8px; min-height:16px;"));
    row->addWidget(b);
  };
  corner("steps", tr("First steps"), tr("The main job in six short steps"), [this] { firstSteps_->begin(); });
  corner("keys", tr("Keys"), tr("All keys, to read and to change (F1)"), [this] { showKeys(*keys_, this); });
  corner("look", tr("Light or dark"), tr("The other look of the window; greys stay neutral in both"),
         [this] { setLook(theme::look() == theme::Look::dark ? theme::Look::light : theme::Look::dark); });
  corner("fit", tr("Fit"), tr("The whole picture (Alt+0)"), [this] { canvas_->zoomToFit(); });
  corner("one", tr("1:1"), tr("One pixel of the picture on one of the screen (Alt+Shift+0)"), [this] { zoomToOne(); });
  row->addWidget(zoom_);
  zoom_->setMinimumWidth(48);
  zoom_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  column->addWidget(line);
  return bar;
}

}  // namespace hseam::app
