// The window's keys.

#include <QLabel>

#include "app/bench_head.h"
#include "app/key_leader.h"
#include "app/keys/keys.h"
#include "app/main_window.h"
#include "app/sheet/sheet.h"

namespace hseam::app {

void MainWindow::buildKeys() {
  keys_ = new Keys(this);
  const auto key = [this](const char* id, const QString& words, const QKeySequence& keys, const std::function<void()>& act,
                          const std::vector<QKeySequence>& also = {}) { keys_->add(QLatin1String(id), words, keys, act, also); };
  const auto seq = [](const char* text) { return QKeySequence(QLatin1String(text)); };
  for (int i = 0; i < int(stations_.size()); ++i)
    keys_->add(QStringLiteral("station-%1").arg(i + 1), tr("station: %1").arg(stations_[std::size_t(i)]->name()),
               QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)), [this, i] { goTo(i); });
  key("next-step", tr("do the next useful step"), seq("Ctrl+Return"), [this] { head_->act(); }, {seq("Ctrl+Enter")});
  key("undo", tr("take back the last step"), seq("Ctrl+Z"), [this] { desk_.session.undo(); });
  key("redo", tr("do it again"), seq("Ctrl+Shift+Z"), [this] { desk_.session.redo(); }, {seq("Ctrl+Y")});
  key("new", tr("a new scene"), seq("Ctrl+N"), [this] { workspace_.newScene(desk_.session.scene().canvas); });
  key("open", tr("open a project"), seq("Ctrl+O"), [this] { askForProject(); });
  key("name", tr("name the project"), seq("Ctrl+S"), [this] { askSaveAs(); });
  key("add-pictures", tr("add pictures"), seq("Ctrl+I"), [this] { askForPictures(); });
  key("paste", tr("paste a picture"), seq("Ctrl+V"), [this] { workspace_.paste(); });
  key("fit", tr("the whole picture"), seq("Alt+0"), [this] { canvas_->zoomToFit(); });
  key("one-to-one", tr("one pixel to one"), seq("Alt+Shift+0"), [this] { zoomToOne(); });
  key("rename", tr("name the active layer"), seq("F2"), [this] { sheet_->renameActive(); });
  key("duplicate", tr("copy the active layer"), seq("Ctrl+D"), [this] { sheet_->duplicateActive(); });
  key("remove", tr("take the layers in hand out"), seq("Ctrl+Delete"), [this] { sheet_->removeActive(); });
  key("forward", tr("active layer forward"), seq("Ctrl+Up"), [this] { sheet_->moveActive(1); });
  key("back", tr("active layer back"), seq("Ctrl+Down"), [this] { sheet_->moveActive(-1); });
  key("choose-front", tr("choose the layer in front"), seq("Alt+Up"), [this] { sheet_->stepActive(1); });
  key("choose-behind", tr("choose the layer behind"), seq("Alt+Down"), [this] { sheet_->stepActive(-1); });
  key("hold-front", tr("take the layer in front in hand too"), seq("Alt+Shift+Up"), [this] { sheet_->holdNext(1); });
  key("hold-behind", tr("take the layer behind in hand too"), seq("Alt+Shift+Down"), [this] { sheet_->holdNext(-1); });
  key("next-finding",
      tr("the next finding; in the guess the next doubtful place, in the band the next one that it misses, of frames the next "
         "overlap"),
      seq("Ctrl+J"), [this] { showFinding(1); });
  key("previous-finding", tr("the finding, or doubtful place, before"), seq("Ctrl+Shift+J"), [this] { showFinding(-1); });
  key("keys", tr("this list of keys"), seq("F1"), [this] { showKeys(*keys_, this); });
  auto* leader = new KeyLeader(this);
  connect(leader, &KeyLeader::started, this, [this, leader] {
    QStringList names;
    for (const PageFrame* p : stations_[std::size_t(currentStation())]->pages()->all()) names << p->name();
    leader->setNames(names);
    doing_->setText(tr("type the first letters of an instrument: %1").arg(names.join(QStringLiteral(", "))));
  });
  connect(leader, &KeyLeader::chosen, this, [this](int i) {
    PageList* pages = stations_[std::size_t(currentStation())]->pages();
    pages->open(pages->all()[std::size_t(i)]);
  });
  connect(leader, &KeyLeader::ended, this, [this] { refreshSoon(kWords); });
}

}  // namespace hseam::app
