#include "app/stations/place/bend.h"

#include <QButtonGroup>
#include <QPushButton>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/widgets/builders.h"

namespace hseam::app {

Bend::Bend(Desk& desk)
    : Page(desk, {"bend", tr("Bend"), tr("By corners, grid or tacks: onto a banner, round a fold")}),
      tool_(desk.session, desk.messages),
      ways_(new QButtonGroup(this)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(
      quietLabel(tr("For pictures and words. The three ways work together and stay changeable; a picture is read only once.")));
  const struct {
    QString name, tip;
  } rows[] = {{tr("four corners"), tr("As a flat picture seen from another side: onto a wall, a sign, a banner")},
              {tr("grid"), tr("Smooth patches between crossings that you drag: folds, creases, cloth")},
              {tr("tacks"),
               tr("Set tacks where the picture holds and drag those that shall move; the rest follows as stiffly as it can")}};
  for (int i = 0; i < 3; ++i) {
    auto* r = new QRadioButton(rows[i].name);
    r->setToolTip(rows[i].tip);
    ways_->addButton(r, i);
    column->addWidget(r);
  }
  ways_->button(0)->setChecked(true);
  connect(ways_, &QButtonGroup::idClicked, this, [this](int id) {
    tool_.cancel();
    tool_.way = WarpTool::Way(id);
    refresh();
    emit changed();
  });
  split_ = button(tr("Add a crossing"), tr("The next click on the picture puts a line across and one down there"), [this] {
    tool_.splits = true;
    emit changed();
  });
  straight_ = button(tr("Undo this way"), tr("Takes the corners, the grid or the tacks away; the other ways stay"), [this] {
    scene::Warp w = tool_.warpFor(tool_.way);
    if (tool_.way == WarpTool::Way::corners) w.corners.clear();
    if (tool_.way == WarpTool::Way::grid) w.grid.clear(), w.columns.clear(), w.rows.clear();
    if (tool_.way == WarpTool::Way::tacks) w.tacks.clear();
    tool_.change(w, true);
  });
  all_ = button(tr("Do not bend"), tr("The picture, or the words, as they were before"), [this] { tool_.change({}, true); });
  column->addWidget(split_);
  column->addWidget(rowOf({straight_, all_}));
}

QString Bend::words() const {
  const auto kept = tool_.kept();
  return kept && *kept ? tr("bent") : tr("not bent");
}

void Bend::refresh() {
  const auto kept = tool_.kept();
  setEnabled(kept.has_value());
  split_->setEnabled(tool_.way == WarpTool::Way::grid);
  for (QPushButton* b : {straight_, all_}) b->setEnabled(kept && *kept);
}

}  // namespace hseam::app
