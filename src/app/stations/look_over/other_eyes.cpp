#include "app/stations/look_over/other_eyes.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QRadioButton>
#include <QVBoxLayout>

#include "app/stations/look_over/ways_of_seeing.h"

namespace hseam::app {

OtherEyes::OtherEyes(Desk& desk)
    : Page(desk,
           {"eyes", tr("Look with other eyes"), tr("Views that give a composite away; the picture itself is not changed")}) {
  auto* c = column();
  eyes_ = new QButtonGroup(this);
  for (const WayOfSeeing& w : waysOfSeeing()) {
    auto* b = new QRadioButton(w.name);
    b->setToolTip(w.tip);
    b->setAccessibleDescription(w.tip);
    b->setChecked(w.eyes == Eyes::plain);
    eyes_->addButton(b, int(w.eyes));
    c->addWidget(b);
  }
  connect(eyes_, &QButtonGroup::idClicked, this, [this] { emit changed(); });
  mirror_ = new QCheckBox(tr("mirrored"));
  mirror_->setToolTip(tr("Left and right swapped: what you have got used to looks new"));
  curtain_ = new QCheckBox(tr("before and after, with a curtain"));
  curtain_->setToolTip(
      tr("Left of the curtain: the pictures without adjustments and masks' clean colours. Drag the dashed line."));
  for (QCheckBox* box : {mirror_, curtain_}) {
    connect(box, &QCheckBox::clicked, this, [this] { emit changed(); });
    c->addWidget(box);
  }
  auto* heat = new QCheckBox(tr("heat along the seams"));
  heat->setToolTip(
      tr("Thin and blue where the cut does not show, broad and amber where its old background is left on it or its "
         "edge is unlike the rest"));
  connect(heat, &QCheckBox::clicked, this, &OtherEyes::heatAsked);
  c->addWidget(heat);
  small_ = new SmallAmong(desk.session, desk.aside);
  c->addWidget(small_);
}

void OtherEyes::changeView(View& view) const {
  view.eyes = Eyes(eyes_->checkedId());
}

bool OtherEyes::mirrored() const {
  return mirror_->isChecked();
}

bool OtherEyes::curtain() const {
  return curtain_->isChecked();
}

}  // namespace hseam::app
