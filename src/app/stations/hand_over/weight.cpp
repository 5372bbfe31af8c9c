#include "app/stations/hand_over/weight.h"

#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stations/hand_over/weight_view.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

constexpr int kMostKb = 1'000'000;
constexpr double kBytesInKb = 1000;

using Picture = std::shared_ptr<const deliver::Encodable>;

struct WeighedFiles {
  Picture picture;
  std::vector<deliver::Trial> trials;
  std::optional<deliver::UnderWeight> best;
};

// `known`, where it still is what would be written.
base::Result<Picture> encodableOr(const Picture& known, const scene::Scene& scene, const deliver::ExportOptions& options,
                                  base::Executor& executor, const base::Progress& progress) {
  if (known) return known;
  HSEAM_TRY(auto picture, deliver::encodable(scene, options, executor, progress));
  return std::make_shared<const deliver::Encodable>(std::move(picture));
}

}  // namespace

Weight::Weight(Desk& desk, WriteCopy& copy)
    : Page(desk, {"weight", tr("Weigh qualities"),
                  tr("What JPEG and WebP weigh at several qualities, what each costs, and the best below a weight")}),
      copy_(copy),
      view_(new WeightView(this)),
      list_(new QListWidget),
      most_(new QSpinBox),
      told_(quietLabel({})) {
  view_->hide();
  auto* c = column();
  c->addWidget(told_);
  weigh_ = button(tr("Weigh it"), tr("Writes the picture at eight qualities to a temporary place and compares each with it"),
                  [this] { weigh(); });
  c->addWidget(weigh_);
  list_->setAccessibleName(tr("Qualities that were tried"));
  list_->setToolTip(tr("Quality, weight, likeness on the whole and at the worst place; the chosen one is shown in the middle"));
  list_->setFixedHeight(190);
  c->addWidget(list_);
  most_->setRange(0, kMostKb);
  most_->setSpecialValueText(tr("no limit"));
  most_->setSuffix(tr(" kB"));
  most_->setAccessibleName(tr("Heaviest"));
  most_->setToolTip(tr("kB of 1000 bytes that the file may have"));
  c->addWidget(namedRow(tr("at most"), most_));
  find_ = button(tr("Find the best below it"), tr("Halves the qualities: at most seven files are written to find it"),
                 [this] { find(); });
  take_ = button(tr("Take this quality"), tr("Writes it into Write a flat copy"), [this] {
    const int i = list_->currentRow();
    if (!weighed_ || i < 0 || i >= int(weighed_->trials.size())) return;
    copy_.setQuality(weighed_->trials[std::size_t(i)].quality);
    emit desk_.messages.said(tr("A flat copy is now written at quality %1").arg(weighed_->trials[std::size_t(i)].quality));
  });
  take_->setProperty("main", true);
  c->addWidget(find_);
  c->addWidget(take_);
  connect(list_, &QListWidget::currentRowChanged, this, [this](int row) { choose(row); });
  connect(view_, &WeightView::chosenByHand, this, [this](int trial) { list_->setCurrentRow(trial); });
  connect(most_, &QSpinBox::valueChanged, this, [this] { tell(); });
  tell();
}

bool Weight::fresh() const {
  if (!weighed_) return false;
  deliver::ExportOptions now = copy_.options(), then = weighed_->options;
  now.quality = then.quality;
  const scene::Scene& s = desk_.session.scene();
  return now == then && s.layers == weighed_->scene.layers && s.canvas == weighed_->scene.canvas &&
         s.mixing == weighed_->scene.mixing;
}

void Weight::refresh() {
  if (weighed_ && !fresh()) {
    weighed_.reset();
    list_->clear();
    view_->show({});
    emit changed();
  }
  tell();
}

QWidget* Weight::middle() {
  return weighed_ && !weighed_->trials.empty() ? view_ : nullptr;
}

QString Weight::words() const {
  const int i = list_->currentRow();
  return weighed_ && i >= 0 && i < int(weighed_->trials.size()) ? inKb(weighed_->trials[std::size_t(i)].bytes) : QString();
}

void Weight::tell() {
  const deliver::ExportOptions o = copy_.options();
  const bool can = copy_.hasQuality() && !desk_.session.scene().layers.empty();
  if (!copy_.hasQuality())
    told_->setText(tr("JPEG and WebP have a quality: choose one of them in Write a flat copy."));
  else if (desk_.session.scene().layers.empty())
    told_->setText(tr("Add a picture first."));
  else
    told_->setText(tr("%1, %2").arg(o.kind == image::FileKind::jpeg ? tr("JPEG") : tr("WebP"),
                                    o.longSide > 0 ? tr("long side %1 px").arg(o.longSide) : tr("full size")));
  weigh_->setEnabled(can);
  find_->setEnabled(can && most_->value() > 0);
  take_->setEnabled(weighed_ && list_->currentRow() >= 0);
  view_->setLimit(most_->value() > 0 ? std::optional(most_->value() * kBytesInKb) : std::nullopt);
}

void Weight::choose(int trial) {
  if (trial >= 0) view_->choose(trial);
  tell();
  emit changed();
}

void Weight::weigh() {
  const scene::Scene scene = desk_.session.scene();
  const deliver::ExportOptions options = copy_.options();
  const Picture known = fresh() ? weighed_->picture : nullptr;
  desk_.jobs.start<WeighedFiles>(
      {tr("Weigh qualities"), QStringLiteral("weigh")},
      [scene, options, known](base::Executor& e, const base::Progress& p) -> base::Result<WeighedFiles> {
        WeighedFiles made;
        HSEAM_TRY(made.picture, encodableOr(known, scene, options, e, p.part(0, 0.3)));
        const std::size_t all = deliver::kUsualQualities.size();
        for (std::size_t i = 0; i < all; ++i) {
          const double share = 0.7 / double(all);
          HSEAM_TRY(auto trial, deliver::trialAt(*made.picture, deliver::kUsualQualities[i], e,
                                                 p.part(0.3 + share * double(i), 0.3 + share * double(i + 1))));
          made.trials.push_back(std::move(trial));
        }
        return made;
      },
      [this, scene, options](WeighedFiles made) {
        show(scene, options, made.picture, std::move(made.trials), copy_.options().quality);
      });
}

void Weight::find() {
  const scene::Scene scene = desk_.session.scene();
  const deliver::ExportOptions options = copy_.options();
  const Picture known = fresh() ? weighed_->picture : nullptr;
  const auto most = std::int64_t(most_->value() * kBytesInKb);
  desk_.jobs.start<WeighedFiles>(
      {tr("Find the quality"), QStringLiteral("weigh")},
      [scene, options, known, most](base::Executor& e, const base::Progress& p) -> base::Result<WeighedFiles> {
        WeighedFiles made;
        HSEAM_TRY(made.picture, encodableOr(known, scene, options, e, p.part(0, 0.4)));
        HSEAM_TRY(made.best, deliver::bestUnder(*made.picture, most, p.part(0.4, 0.9)));
        HSEAM_TRY(auto trial, deliver::trialAt(*made.picture, made.best->quality, e, p.part(0.9, 1)));
        made.trials.push_back(std::move(trial));
        return made;
      },
      [this, scene, options](WeighedFiles made) {
        const int quality = made.best->quality;
        emit desk_.messages.said(
            tr("Quality %1 weighs %2, found with %3 files").arg(quality).arg(inKb(made.best->bytes)).arg(made.best->files));
        copy_.setQuality(quality);
        show(scene, options, made.picture, std::move(made.trials), quality);
      });
}

void Weight::show(const scene::Scene& scene, const deliver::ExportOptions& options,
                  std::shared_ptr<const deliver::Encodable> picture, std::vector<deliver::Trial> trials, int nearest) {
  // What was tried before of the same picture stays among them.
  if (weighed_ && fresh()) {
    for (deliver::Trial& t : weighed_->trials) {
      if (std::none_of(trials.begin(), trials.end(), [&](const auto& other) { return other.quality == t.quality; }))
        trials.push_back(std::move(t));
    }
  }
  std::sort(trials.begin(), trials.end(), [](const auto& a, const auto& b) { return a.quality < b.quality; });
  weighed_ = Weighed{scene, options, std::move(picture), std::move(trials)};
  view_->show(weighed_->trials);
  list_->clear();
  int row = 0;
  for (int i = 0; i < int(weighed_->trials.size()); ++i) {
    const deliver::Trial& t = weighed_->trials[std::size_t(i)];
    list_->addItem(
        tr("%1: %2, %3, worst %4")
            .arg(t.quality)
            .arg(inKb(t.bytes), QLocale().toString(t.likeness.mean, 'f', 3), QLocale().toString(t.likeness.worst, 'f', 3)));
    if (std::abs(t.quality - nearest) < std::abs(weighed_->trials[std::size_t(row)].quality - nearest)) row = i;
  }
  list_->setCurrentRow(row);
  refresh();  // the picture may have changed while it was weighed
  emit changed();
}

}  // namespace hseam::app
