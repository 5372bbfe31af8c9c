#include "app/stations/gather/fit_page.h"

#include <QLabel>
#include <QVBoxLayout>
#include <cmath>

#include "app/stations/shelf_folder.h"
#include "app/widgets/builders.h"

namespace hseam::app {
namespace {

std::vector<scene::LayerRef> picturesOf(const scene::Scene& s) {
  std::vector<scene::LayerRef> out;
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (l->picture() && !l->picture()->byHand && !l->hidden) out.push_back(l);
  }
  return out;
}

struct Ranking {
  std::optional<tasks::ShotFacts> subject;
  std::vector<tasks::HowItFits> fits;
};

Ranking rankingOf(const scene::Scene& s, scene::LayerId subject, const std::vector<store::ShelfItem>& shelf) {
  base::InlineExecutor here;
  Ranking out;
  std::vector<tasks::ShotFacts> places;
  for (const scene::LayerRef& l : picturesOf(s)) {
    auto facts = tasks::shotFactsOf(s, l->id, {});
    if (!facts.ok()) continue;
    if (l->id == subject) {
      out.subject = *facts;
    } else {
      places.push_back(*facts);
    }
  }
  for (const store::ShelfItem& i : shelf) {
    if (i.kind != store::ShelfKind::texture) places.push_back(tasks::shotFactsOf(i));
  }
  if (out.subject) out.fits = tasks::rankedFor(*out.subject, places);
  return out;
}

QString factsOf(const tasks::ShotFacts& f) {
  QStringList known;
  if (f.horizon) known << QObject::tr("horizon at %1 % of its height").arg(100 * *f.horizon, 0, 'f', 0);
  if (f.viewAngleDeg) known << QObject::tr("angle of view %1°").arg(*f.viewAngleDeg, 0, 'f', 0);
  if (f.lightDeg) known << QObject::tr("light from %1°").arg(std::round(*f.lightDeg));
  if (f.midL > 0) known << QObject::tr("middle L* %1").arg(f.midL, 0, 'f', 0);
  if (!f.horizon) known << QObject::tr("horizon unknown");
  return QString::fromStdString(f.name) + QStringLiteral(": ") + known.join(QStringLiteral(", "));
}

}  // namespace

FitPage::FitPage(Desk& desk)
    : Page(desk, {"fit", tr("What fits"), tr("How well the other pictures, and places of the shelf, fit the active one")}),
      subject_(quietLabel({})),
      ranking_(new QLabel) {
  auto* c = column();
  subject_->setToolTip(tr("Noted, written by the camera, or measured; a horizon is noted in Place, under Floor and horizon"));
  c->addWidget(subject_);
  ranking_->setWordWrap(true);
  ranking_->setAccessibleName(tr("Pictures by how well they fit, the best first"));
  ranking_->setToolTip(tr("Tilt of the camera, lens, light, exposure; what is not known of both says nothing"));
  c->addWidget(ranking_);
  connect(&desk_.session, &Session::historyChanged, this, &FitPage::sayOfNew);
  connect(&desk_.session, &Session::replaced, this, [this] { pictures_ = int(picturesOf(desk_.session.scene()).size()); });
  pictures_ = int(picturesOf(desk_.session.scene()).size());
}

QString FitPage::words() const {
  return best_;
}

void FitPage::refresh() {
  const auto pictures = picturesOf(desk_.session.scene());
  const auto active =
      std::find_if(pictures.begin(), pictures.end(), [&](const scene::LayerRef& l) { return l->id == desk_.session.active(); });
  if (active == pictures.end() || (pictures.size() < 2 && ownShelf().list().items.empty())) {
    subject_->setText(pictures.size() < 2 ? tr("Add a second picture, or put a place on the shelf.") : tr("Choose a picture."));
    ranking_->clear();
    askedOf_ = {};
    return;
  }
  const auto& layers = desk_.session.scene().layers;
  if ((*active)->id == askedOf_ && layers == asked_) return;
  askedOf_ = (*active)->id, asked_ = layers;
  compare();
}

void FitPage::compare() {
  subject_->setText(tr("comparing…"));
  desk_.aside.ask<Ranking>(
      {tr("Compare pictures"), QStringLiteral("fit ranking")},
      [s = desk_.session.scene(), id = desk_.session.active(), shelf = ownShelf().list().items] {
        return rankingOf(s, id, shelf);
      },
      [this](const Ranking& r) {
        if (!r.subject) return;
        subject_->setText(factsOf(*r.subject));
        QStringList lines;
        int n = 0;
        for (const tasks::HowItFits& f : r.fits) {
          const QString name = QString::fromStdString(f.name).toHtmlEscaped();
          lines << (f.reasons.empty() ? tr("<b>%1. %2</b> fits in all that is known of both").arg(++n).arg(name)
                                      : QStringLiteral("<b>%1. %2</b>").arg(++n).arg(name));
          for (const std::string& reason : f.reasons) lines << QString::fromStdString(reason).toHtmlEscaped();
        }
        ranking_->setText(lines.join(QStringLiteral("<br>")));
        best_ = r.fits.empty() ? QString() : QString::fromStdString(r.fits.front().name);
        emit changed();
      });
}

void FitPage::sayOfNew() {
  const auto pictures = picturesOf(desk_.session.scene());
  const bool more = int(pictures.size()) > pictures_;
  pictures_ = int(pictures.size());
  if (!more || pictures.size() < 2) return;
  // The one that came in against the one that lies furthest back.
  const auto newest =
      std::max_element(pictures.begin(), pictures.end(), [](const auto& a, const auto& b) { return a->id < b->id; });
  if (*newest == pictures.front()) return;
  desk_.aside.ask<std::optional<tasks::HowItFits>>(
      {tr("Compare pictures"), QStringLiteral("fit of new")},
      [s = desk_.session.scene(), id = (*newest)->id, place = pictures.front()->id]() -> std::optional<tasks::HowItFits> {
        base::InlineExecutor here;
        const auto a = tasks::shotFactsOf(s, id, {}), b = tasks::shotFactsOf(s, place, {});
        return a.ok() && b.ok() ? std::optional(tasks::fitOf(*a, *b)) : std::nullopt;
      },
      [this](const std::optional<tasks::HowItFits>& fit) {
        constexpr double kSaid = 1;
        if (fit && fit->off > kSaid && !fit->reasons.empty())
          emit desk_.messages.said(QString::fromStdString(fit->reasons.front()));
      });
}

}  // namespace hseam::app
