#include "app/stations/cut_out/guess_subject.h"

#include <QButtonGroup>
#include <QLabel>
#include <QPushButton>
#include <QRadioButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/stations/cut_out/cut_work.h"
#include "app/widgets/builders.h"
#include "core/image/rgb.h"
#include "core/select/full_size.h"

namespace hseam::app {
namespace {

enum Pointing { kStrokes, kBox, kSeen };
constexpr int kMostSeen = 5, kSide = 52;  // px of a candidate's picture

// The candidate as it would be cut out, on the colour of the button.
QImage candidateIcon(const QImage& all, const image::Raster<std::uint8_t>& subject) {
  QImage cut(subject.width(), subject.height(), QImage::Format_ARGB32);
  const QImage scaled = all.scaled(cut.size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
  for (int y = 0; y < cut.height(); ++y) {
    for (int x = 0; x < cut.width(); ++x) {
      // What is not chosen stays faintly there: it tells where the candidate is.
      const QRgb c = scaled.pixel(x, y);
      cut.setPixel(x, y, qRgba(qRed(c), qGreen(c), qBlue(c), *subject.at(x, y) ? 255 : 40));
    }
  }
  return cut.scaled(kSide, kSide, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

base::Result<QImage> smallPicture(const image::TiledImage& source) {
  int level = 0;
  while (level + 1 < source.levelCount() && source.level(level + 1).size.width >= select::kGuessSide) ++level;
  const base::Size size = source.level(level).size;
  HSEAM_TRY(auto read, image::readFloat(source, level, base::Rect::of(size)));
  const image::Raster<float> rgb = image::rgbOf(std::move(read));
  QImage out(size.width, size.height, QImage::Format_RGB32);
  for (int y = 0; y < size.height; ++y) {
    for (int x = 0; x < size.width; ++x) {
      const auto at = [&](int c) { return int(std::lround(std::clamp(rgb.at(x, y)[c], 0.f, 1.f) * 255)); };
      out.setPixel(x, y, qRgb(at(0), at(1), at(2)));
    }
  }
  return out;
}

image::Raster<std::uint8_t> joined(const image::Raster<std::uint8_t>& a, const image::Raster<std::uint8_t>& b) {
  image::Raster<std::uint8_t> out = a;
  for (std::size_t i = 0; i < out.samples().size(); ++i) out.samples()[i] = std::max(out.samples()[i], b.samples()[i]);
  return out;
}

}  // namespace

GuessSubject::GuessSubject(Desk& desk)
    : SelectingPage(desk,
                    {"guess", tr("Guess the subject"), tr("Let the program find the subject, then correct it with strokes")}),
      hints_(
          desk.session, desk.messages, [this] { return hintTarget(); },
          [] { return tr("hints: left says subject, right says background"); }),
      box_(
          [this](OutlineTool::Kind, const QPolygonF& o) {
            select::GuessOptions options;
            const QRect r = o.boundingRect().toAlignedRect();
            options.box = base::Rect{r.x(), r.y(), r.width(), r.height()};
            look(std::move(options), QStringLiteral("guessed in a box"));
          },
          [] { return tr("draw a box round the subject"); }),
      pick_([this](QPointF at, bool further) { pickAt(at, further); },
            [] { return tr("click what you want of what is seen; with Shift: that too"); }) {
  box_.kind = OutlineTool::Kind::rectangle;
  hints_.onScreen = true;
  auto* c = new QVBoxLayout(this);
  c->setContentsMargins(0, 0, 0, 0);
  auto* guessButton = button(tr("Guess"), tr("Find the subject; your hints are used"), [this] { guess(true); });
  guessButton->setProperty("main", true);
  c->addWidget(guessButton);
  candidatesShown_ = new QWidget;
  row_ = new QHBoxLayout(candidatesShown_);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->setSpacing(3);
  row_->addStretch();
  c->addWidget(candidatesShown_);
  confidence_ = quietLabel({});
  confidence_->setAccessibleName(tr("How sure the guess is"));
  c->addWidget(confidence_);
  doubt_ =
      button(tr("Look at the next doubtful place"),
             tr("Places where what was learned, the colours and the edges disagree: shoes, fingers, hair, neighbours (Ctrl+J)"),
             [this] { stepDoubt(1); });
  c->addWidget(doubt_);
  pointing_ = new QButtonGroup(this);
  const auto way = [this](Pointing id, const QString& name, const QString& tip) {
    auto* b = new QRadioButton(name);
    b->setToolTip(tip);
    pointing_->addButton(b, id);
    return b;
  };
  auto* strokes = way(kStrokes, tr("hint strokes"),
                      tr("Left button: this is the subject. Right button: this is background. A stroke takes the surface it runs "
                         "over, up to the picture's edges"));
  auto* box = way(kBox, tr("a box"), tr("Drag a box loosely round the subject; the guess stays inside"));
  auto* seen =
      way(kSeen, tr("a click"), tr("Click a thing that is seen and it is selected; with Shift it is added or taken out"));
  strokes->setChecked(true);
  connect(pointing_, &QButtonGroup::idClicked, this, [this] { emit changed(); });
  c->addWidget(quietLabel(tr("Then help it with")));
  c->addWidget(rowOf({strokes, box, seen}));
  hintSize_ = new ValueField(tr("stroke"), {2, 200, 10, 0, tr("px"), false},
                             tr("Width of a hint stroke on the screen, whatever the zoom (Alt + wheel)"));
  const auto takeSize = [this] { hints_.tip = {hintSize_->value(), 1, 1}; };
  connect(hintSize_, &ValueField::changed, this, takeSize);
  takeSize();
  hints_.tipChanged = [this] { hintSize_->setValue(hints_.tip.sizePx); };
  hints_.stroked = [this] { guess(true); };
  c->addWidget(hintSize_);
  c->addWidget(quietLabel(tr("Left button: subject. Right button: background.")));
  c->addWidget(button(tr("Forget the hints"), tr("Take all hint strokes away"), [this] {
    if (picture()) desk_.session.apply(scene::SetHints{desk_.session.active(), {}});
  }));
  refresh();
}

Instrument* GuessSubject::instrument() {
  switch (pointing_->checkedId()) {
    case kBox:
      return &box_;
    case kSeen:
      return &pick_;
    default:
      return &hints_;
  }
}

void GuessSubject::paintOver(QPainter& painter, const QTransform& toWidget, const QRect& widget) {
  if (const auto* p = shownPicture()) hintOverlay_.paint(painter, p->cutout->hints, toWidget, widget, LabelOverlay::Style::hints);
  SelectingPage::paintOver(painter, toWidget, widget);
}

const scene::PictureContent* GuessSubject::picture() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l ? l->picture() : nullptr;
}

QString GuessSubject::words() const {
  const auto* p = picture();
  if (!p || p->cutout->selection.isNull()) return tr("not yet");
  if (seenIn_ == p->source.stamp() && !seen_.candidates.empty())
    return tr("%1 % sure").arg(std::lround(100 * seen_.candidates.front().confidence));
  return tr("selected");
}

void GuessSubject::refresh() {
  const auto* p = picture();
  if (!p || p->source.stamp() != seenIn_) {
    seen_ = {};
    seenIn_ = 0;
    place_ = -1;
    qDeleteAll(pictures_);
    pictures_.clear();
  }
  candidatesShown_->setVisible(!pictures_.isEmpty());
  showConfidence();
}

void GuessSubject::showConfidence() {
  confidence_->setVisible(!seen_.candidates.empty());
  doubt_->setVisible(!seen_.doubtful.empty());
  if (seen_.candidates.empty()) return;
  const select::Candidate& best = seen_.candidates.front();
  QString words = tr("%1: %2 % sure").arg(QString::fromStdString(best.what)).arg(std::lround(100 * best.confidence));
  const int places = int(seen_.doubtful.size());
  if (places > 0 && place_ >= 0) words += tr(", place %1 of %2").arg(place_ + 1).arg(places);
  if (places > 0 && place_ < 0) words += places == 1 ? tr(", one place to look at") : tr(", %1 places to look at").arg(places);
  if (!seen_.missing.empty())
    words += tr("\nBy colours alone, without what was learned (%1)").arg(QString::fromStdString(seen_.missing));
  confidence_->setText(words);
}

bool GuessSubject::stepDoubt(int by) {
  const int n = int(seen_.doubtful.size());
  if (n == 0 || !picture() || picture()->source.stamp() != seenIn_) return false;
  place_ = place_ < 0 ? (by > 0 ? 0 : n - 1) : (place_ + by + n) % n;
  const base::Rect r = seen_.doubtful[std::size_t(place_)];
  showConfidence();
  emit placeAsked(QRectF(r.x, r.y, r.width, r.height));
  return true;
}

std::optional<Brush::Target> GuessSubject::hintTarget() const {
  const auto* p = picture();
  if (!p) return std::nullopt;
  Brush::Target t;
  t.picture = p->cutout->hints.isNull() ? image::uniformCoverage(p->source.size(), select::kHintNothing, desk_.session.memory())
                                        : p->cutout->hints;
  t.left = select::kHintSubject;
  t.right = select::kHintBackground;
  t.flat = true;
  t.edit = [id = desk_.session.active()](const image::TiledImage& painted) { return scene::SetHints{id, painted}; };
  return t;
}

void GuessSubject::guess(bool withHints) {
  const auto* p = picture();
  if (!p) {
    emit desk_.messages.said(tr("Choose a picture in the sheet first"));
    return;
  }
  select::GuessOptions options;
  if (withHints && !p->cutout->hints.isNull()) {
    options.hints = p->cutout->hints;
    options.previous = p->cutout->selection;
  }
  look(std::move(options), QStringLiteral("guessed"));
}

base::Result<GuessSubject::Looked> GuessSubject::lookAt(const image::TiledImage& source, const select::GuessOptions& options,
                                                        base::Executor& executor, const base::Progress& progress) {
  Looked out;
  HSEAM_TRY(out.seen, select::seeSubjects(source, options, 1, progress.part(0, 0.7)));
  HSEAM_TRY(out.selection, select::atFullSize(source, out.seen.candidates.front().subject, executor, progress.part(0.7, 1)));
  return out;
}

void GuessSubject::look(select::GuessOptions options, const QString& how) {
  const auto* p = picture();
  if (!p) return;
  const bool correcting = !options.previous.isNull();
  desk_.jobs.start<Looked>(
      tr("Guess the subject"),
      [source = p->source, options = std::move(options)](base::Executor& e, const base::Progress& progress) {
        return lookAt(source, options, e, progress);
      },
      [this, from = desk_.session.scene(), id = desk_.session.active(), how, correcting, source = p->source](Looked looked) {
        if (!desk_.session.applyResult(scene::SetSelection{id, std::move(looked.selection), how.toStdString()}, from)) return;
        if (correcting) {
          // What hints have put right is as sure as it was, and the places that were doubtful have been seen to.
          refresh();
          return;
        }
        take(looked.seen, source);
      });
}

void GuessSubject::take(const select::SeenSubjects& seen, const image::TiledImage& source) {
  if (!picture() || picture()->source.stamp() != source.stamp()) return;
  seen_ = seen;
  seenIn_ = source.stamp();
  place_ = -1;
  qDeleteAll(pictures_);
  pictures_.clear();
  refresh();
  emit changed();
  // The others are looked for while the best one is looked at.
  struct Others {
    base::Result<select::SeenSubjects> seen;
    base::Result<QImage> picture;
  };
  desk_.aside.ask<Others>(
      QStringLiteral("seen subjects"),
      [source] {
        return Others{select::seeSubjects(source, {}, kMostSeen, {}), smallPicture(source)};
      },
      [this, stamp = seenIn_](const Others& others) {
        if (!others.seen.ok() || !others.picture.ok() || stamp != seenIn_) return;
        for (std::size_t i = 1; i < others.seen->candidates.size(); ++i) seen_.candidates.push_back(others.seen->candidates[i]);
        for (const select::Candidate& c : seen_.candidates) {
          auto* b = new QToolButton;
          b->setCheckable(true);
          b->setChecked(pictures_.isEmpty());
          b->setIconSize({kSide, kSide});
          b->setIcon(QPixmap::fromImage(candidateIcon(*others.picture, c.subject)));
          const QString name = QString::fromStdString(c.what);
          b->setToolTip(tr("%1, %2 % sure. Click to select it or take it out; several are joined")
                            .arg(name)
                            .arg(std::lround(100 * c.confidence)));
          b->setAccessibleName(tr("seen: %1").arg(name));
          connect(b, &QToolButton::clicked, this, [this] { selectMarked(); });
          row_->insertWidget(int(pictures_.size()), b);
          pictures_.push_back(b);
        }
        refresh();
      });
}

void GuessSubject::selectMarked() {
  const auto* p = picture();
  if (!p) return;
  image::Raster<std::uint8_t> all;
  QStringList names;
  for (int i = 0; i < pictures_.size(); ++i) {
    if (!pictures_[i]->isChecked()) continue;
    const select::Candidate& c = seen_.candidates[std::size_t(i)];
    all = all.empty() ? c.subject : joined(all, c.subject);
    names << QString::fromStdString(c.what);
  }
  if (all.empty()) {
    desk_.session.apply(scene::SetSelection{desk_.session.active(), {}, "nothing of what is seen"});
    return;
  }
  desk_.jobs.start<image::TiledImage>(
      tr("Select what is seen"),
      [source = p->source, all](base::Executor& e, const base::Progress& progress) {
        return select::atFullSize(source, all, e, progress);
      },
      [this, from = desk_.session.scene(), id = desk_.session.active(),
       how = names.join(QStringLiteral(", "))](image::TiledImage selection) {
        desk_.session.applyResult(scene::SetSelection{id, std::move(selection), how.toStdString()}, from);
      });
}

void GuessSubject::pickAt(QPointF at, bool further) {
  const auto* p = picture();
  if (!p || pictures_.isEmpty()) {
    emit desk_.messages.said(tr("Nothing has been looked for yet: press Guess first"));
    return;
  }
  // The smallest thing under the pointer: a person before the whole group.
  int best = -1, least = 0;
  for (int i = 0; i < int(pictures_.size()); ++i) {
    const auto& s = seen_.candidates[std::size_t(i)].subject;
    const int x = int(at.x() * s.width() / p->source.size().width), y = int(at.y() * s.height() / p->source.size().height);
    if (x < 0 || y < 0 || x >= s.width() || y >= s.height() || !*s.at(x, y)) continue;
    const int area = int(std::count(s.samples().begin(), s.samples().end(), std::uint8_t(255)));
    if (best < 0 || area < least) best = i, least = area;
  }
  if (best < 0) {
    emit desk_.messages.said(tr("Nothing of what is seen lies here; a hint stroke or a box says where it is"));
    return;
  }
  for (int i = 0; i < int(pictures_.size()); ++i) {
    if (i == best) {
      pictures_[i]->setChecked(!further || !pictures_[i]->isChecked());
    } else if (!further) {
      pictures_[i]->setChecked(false);
    }
  }
  selectMarked();
}

}  // namespace hseam::app
