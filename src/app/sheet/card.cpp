#include "app/sheet/card.h"

#include <QCheckBox>
#include <QInputDialog>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <vector>

#include "app/canvas/view.h"
#include "app/theme/theme.h"
#include "app/widgets/builders.h"
#include "core/render/fills.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

constexpr QSize kThumb{66, 46};
constexpr int kNameWidth = 132;  // what the sheet leaves beside the thumbnail

QImage drawnThumbnail(const scene::Layer& layer, QSize size) {
  QImage image(size * 2, QImage::Format_RGB32);
  image.fill(theme::colours().sunk);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  p.scale(2, 2);
  p.setPen(QPen(theme::colours().text, 1.6));
  const QRectF r = QRectF(QPointF(), size).adjusted(10, 8, -10, -8);
  if (const auto* a = layer.adjustment()) {
    if (const auto* c = std::get_if<scene::Curves>(&a->adjustment)) {
      const scene::MonotoneCurve f(c->rgb);
      QPainterPath path;
      for (int i = 0; i <= 40; ++i) {
        const QPointF at(r.left() + i / 40.0 * r.width(), r.bottom() - f(i / 40.0) * r.height());
        i == 0 ? path.moveTo(at) : path.lineTo(at);
      }
      p.drawPath(path);
    } else if (const auto* l = std::get_if<scene::Levels>(&a->adjustment)) {
      QLinearGradient ramp(r.left() + l->black * r.width(), 0, r.left() + l->white * r.width(), 0);
      ramp.setColorAt(0, Qt::black);
      ramp.setColorAt(1, Qt::white);
      p.setBrush(ramp);
      p.drawRect(r);
    } else if (const auto* e = std::get_if<scene::Exposure>(&a->adjustment)) {
      // A row of lights, each twice the one before.
      for (int i = 0; i < 5; ++i) {
        const int grey = std::clamp(int(40 * std::exp2(i * 0.6 + e->stops * 0.3)), 0, 255);
        p.setBrush(QColor(grey, grey, grey));
        p.drawRect(QRectF(r.left() + i * r.width() / 5, r.top(), r.width() / 5, r.height()));
      }
    } else if (std::holds_alternative<scene::Saturation>(a->adjustment)) {
      QLinearGradient ramp(r.left(), 0, r.right(), 0);
      ramp.setColorAt(0, QColor(128, 128, 128));
      ramp.setColorAt(1, QColor(200, 70, 60));
      p.setBrush(ramp);
      p.drawRect(r);
    } else if (scene::looksAround(a->adjustment)) {
      // Rings that go out of focus.
      for (int i = 0; i < 4; ++i) {
        p.setPen(QPen(theme::colours().text, 0.6 + 0.9 * i));
        p.setOpacity(1 - 0.22 * i);
        p.drawEllipse(r.center(), 3.0 + 5 * i, 3.0 + 5 * i);
      }
    } else if (!std::holds_alternative<scene::ColourBalance>(a->adjustment)) {
      // What it makes of the hues, and of tones below them.
      const scene::AdjustmentFunction f(a->adjustment);
      constexpr int kColumns = 24;
      p.setPen(Qt::NoPen);
      for (int i = 0; i < 2 * kColumns; ++i) {
        const int column = i % kColumns;
        const QColor hue = QColor::fromHsvF(float(column) / kColumns, 0.7f, 0.8f);
        const double t = double(column) / (kColumns - 1);
        const auto c = i < kColumns ? f({hue.redF(), hue.greenF(), hue.blueF()}) : f({t, t, t});
        p.setBrush(QColor::fromRgbF(float(std::clamp(c[0], 0.0, 1.0)), float(std::clamp(c[1], 0.0, 1.0)),
                                    float(std::clamp(c[2], 0.0, 1.0))));
        p.drawRect(QRectF(r.left() + column * r.width() / kColumns, r.top() + (i < kColumns ? 0 : r.height() / 2),
                          r.width() / kColumns + 0.5, r.height() / 2));
      }
    } else {
      const QColor tints[] = {QColor(214, 120, 110), QColor(120, 170, 214), QColor(214, 196, 110)};
      for (int i = 0; i < 3; ++i) {
        p.setBrush(tints[i]);
        p.drawEllipse(QPointF(r.left() + 10 + i * 14, r.center().y()), 8, 8);
      }
    }
  } else if (layer.light()) {
    // A ball on the floor with light from one side.
    const QPointF foot(r.center().x() - 6, r.bottom() - 3);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0, 0, 0, 120));
    p.drawEllipse(foot + QPointF(12, 0), 16, 4);
    p.setBrush(theme::colours().text);
    p.drawEllipse(foot - QPointF(0, 10), 10, 10);
  } else if (const auto* f = layer.fill()) {
    QImage made(r.size().toSize(), QImage::Format_RGB32);
    render::Planes planes(made.width() * made.height());
    scene::Fill small = f->fill;
    if (auto* g = std::get_if<scene::GradientFill>(&small)) {
      // As it lies in the scene, but within the card.
      const double dx = g->to.x - g->from.x, dy = g->to.y - g->from.y, k = std::max(1e-6, std::hypot(dx, dy));
      g->from = {made.width() / 2.0 * (1 - dx / k), made.height() / 2.0 * (1 - dy / k)};
      g->to = {made.width() / 2.0 * (1 + dx / k), made.height() / 2.0 * (1 + dy / k)};
    }
    if (auto* n = std::get_if<scene::NoiseFill>(&small)) n->sizePx = 24;
    render::paintFill(small, {0, 0, made.width(), made.height()}, 0, planes);
    for (int i = 0; i < planes.count(); ++i) {
      const auto byte = [&](int c) { return int(std::lround(255 * std::clamp(planes.colour(c)[i], 0.f, 1.f))); };
      made.setPixel(i % made.width(), i / made.width(), qRgb(byte(0), byte(1), byte(2)));
    }
    if (f->lettering) {
      // Its first letters in their colour.
      p.setPen(made.pixelColor(0, 0));
      p.setFont(theme::font(theme::Size::title, true));
      p.drawText(r, Qt::AlignCenter, QString::fromStdString(f->lettering->words).simplified().left(5));
    } else {
      p.drawImage(r, made);
    }
  } else {
    for (int i = 2; i >= 0; --i) {
      p.setBrush(theme::colours().raised);
      p.drawRect(QRectF(r.left() + 5 * i, r.top() + 3 * i, r.width() - 12, r.height() - 8));
    }
  }
  return image;
}

}  // namespace

QString wordsFor(const scene::Layer& l) {
  QStringList words;
  if (l.mode != scene::BlendMode::normal || l.opacity < 1) {
    words << QStringLiteral("%1 %2 %").arg(QLatin1String(scene::blendModeName(l.mode))).arg(l.opacity * 100, 0, 'f', 0);
  }
  if (const auto* p = l.picture()) {
    words << (p->byHand ? QObject::tr("painting") : !p->cutout->alpha.isNull() ? QObject::tr("cut-out") : QObject::tr("picture"));
  } else if (const auto* a = l.adjustment()) {
    words << QObject::tr(scene::adjustmentName(a->adjustment));
  } else if (const auto* light = l.light()) {
    words << QObject::tr(scene::lightName(light->kind));
  } else if (const auto* f = l.fill()) {
    words << (f->lettering      ? QObject::tr("words")
              : f->stroke       ? QObject::tr("stroke")
              : l.mask.pathActs ? QObject::tr("shape")
                                : QObject::tr(scene::fillName(f->fill)));
  } else {
    words << QObject::tr("group of %1").arg(l.group()->layers.size());
  }
  if (l.locked) words << QObject::tr("locked");
  if (l.group() && !l.group()->isolated) words << QObject::tr("open below");
  if (!l.mask.coverage.isNull() && !l.mask.enabled) words << QObject::tr("mask off");
  return words.join(QStringLiteral(", "));
}

QImage thumbnailOf(const scene::Layer& layer) {
  const QSize size = kThumb;
  const auto* p = layer.picture();
  if (!p) return drawnThumbnail(layer, size);
  View view;
  view.onlyLayer = layer.id;
  scene::Scene s;
  s.canvas = p->source.size();
  s.layers = {std::make_shared<const scene::Layer>(layer)};
  const scene::Scene alone = sceneFor(s, view);
  int level = 0;
  while ((s.canvas.width >> (level + 1)) >= size.width() * 2 || (s.canvas.height >> (level + 1)) >= size.height() * 2) ++level;
  base::InlineExecutor here;
  render::Renderer renderer;
  const auto pixels = renderer.render(alone, base::Rect::of(render::canvasAt(alone, level)), level, here);
  if (!pixels.ok()) return drawnThumbnail(layer, size);
  return toScreen(*pixels, 0, 0, view).scaled(size * 2, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

Card::Card(Session& session, const scene::LayerRef& layer, const QImage& thumbnail, int depth, bool active, bool ghost, Acts acts,
           QWidget* parent)
    : QFrame(parent), session_(session), layer_(layer), depth_(depth), active_(active), acts_(std::move(acts)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14 + 14 * depth, 7, 8, 9);
  column->setSpacing(4);
  const bool folded = layer->hidden && !active;
  auto* head = new QWidget;
  auto* row = new QHBoxLayout(head);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(9);
  if (!folded) {
    thumb_ = new QLabel;
    thumb_->setFixedSize(kThumb);
    thumb_->setAlignment(Qt::AlignCenter);
    row->addWidget(thumb_);
    setThumbnail(thumbnail);
  }
  auto* texts = new QVBoxLayout;
  texts->setSpacing(1);
  auto* name = new QLabel;
  name->setFont(theme::font(theme::Size::normal, active));
  name->setText(
      QFontMetrics(name->font()).elidedText(QString::fromStdString(layer->name), Qt::ElideRight, kNameWidth - 14 * depth));
  auto* words = new QLabel(folded ? tr("folded away") : wordsFor(*layer));
  words->setProperty("quiet", true);
  words->setWordWrap(true);
  if (folded) {
    row->addWidget(name);
    row->addWidget(words, 1, Qt::AlignRight);
  } else {
    texts->addWidget(name);
    texts->addWidget(words);
    row->addLayout(texts, 1);
  }
  column->addWidget(head);
  if (active) buildUnfolded(ghost);
  setAccessibleName(
      tr("Layer %1, %2%3").arg(QString::fromStdString(layer->name), wordsFor(*layer), active ? tr(", active") : QString()));
  setToolTip(tr("%1: %2. Click to work on it, with Ctrl beside the active one; double click to name it.")
                 .arg(QString::fromStdString(layer->name), wordsFor(*layer)));
}

void Card::setThumbnail(const QImage& thumbnail) {
  if (!thumb_ || thumbnail.isNull()) return;
  QPixmap pixmap = QPixmap::fromImage(thumbnail);
  pixmap.setDevicePixelRatio(2);
  thumb_->setPixmap(pixmap);
}

void Card::buildUnfolded(bool ghost) {
  auto* column = static_cast<QVBoxLayout*>(layout());
  const scene::LayerId id = layer_->id;
  const auto check = [&](const QString& text, const QString& tip, bool on, const std::function<void(bool)>& act) {
    auto* box = new QCheckBox(text);
    box->setChecked(on);
    box->setToolTip(tip);
    connect(box, &QCheckBox::clicked, this, [act](bool v) { act(v); });
    return box;
  };
  column->addWidget(rowOf({
      check(tr("folded"), tr("Fold this layer away: it does not show"), layer_->hidden,
            [this](bool v) {
              const auto held = session_.inHand();
              scene::Several all{(v ? "fold away " : "unfold ") + std::to_string(held.size()) + " layers", {}};
              for (const scene::LayerId each : held) all.edits.push_back({scene::SetHidden{each, v}});
              held.size() == 1 ? session_.apply(all.edits[0].edit) : session_.apply(all);
            }),
      check(tr("ghost"), tr("Half strength, to see what lies below. Never part of what is handed over"), ghost, acts_.ghost),
      check(tr("confined"), tr("Shows only where the layer below it shows"), layer_->clip,
            [this, id](bool v) {
              session_.apply(scene::SetClip{id, v});
            }),
  }));
  const auto small = [](QPushButton* b) {
    b->setStyleSheet(QStringLiteral("padding:3px 2px;"));
    return b;
  };
  std::vector<QWidget*> second{
      check(tr("locked"), tr("Nothing changes this layer until it is unlocked"), layer_->locked, [this, id](bool v) {
        session_.apply(scene::SetLocked{id, v});
      })};
  if (const auto* g = layer_->group()) {
    second.push_back(
        check(tr("by itself"),
              tr("The group acts on a canvas of its own; else its layers act on what lies below it too, within its mask"),
              g->isolated, [this, id](bool v) {
                session_.apply(scene::SetIsolated{id, v});
              }));
  }
  column->addWidget(rowOf(QList<QWidget*>(second.begin(), second.end())));
  column->addWidget(rowOf({
      small(button(tr("Forward"), tr("One place nearer to the front (Ctrl+Up)"), [this] { acts_.move(1); })),
      small(button(tr("Back"), tr("One place nearer to the back (Ctrl+Down)"), [this] { acts_.move(-1); })),
      small(button(tr("Copy"), tr("A second one like it, in front (Ctrl+D)"), acts_.duplicate)),
      small(button(tr("Out"), tr("Take this layer out of the scene (Ctrl+Delete); undo brings it back"), acts_.remove)),
  }));
}

void Card::rename() {
  bool ok = false;
  const QString name = QInputDialog::getText(this, tr("Name of the layer"), tr("Name"), QLineEdit::Normal,
                                             QString::fromStdString(layer_->name), &ok);
  if (ok && !name.trimmed().isEmpty()) session_.apply(scene::SetName{layer_->id, name.trimmed().toStdString()});
}

void Card::mousePressEvent(QMouseEvent* event) {
  if (event->button() == Qt::LeftButton && event->modifiers() & Qt::ControlModifier) {
    QMetaObject::invokeMethod(
        &session_, [&d = session_, id = layer_->id] { d.toggleInHand(id); }, Qt::QueuedConnection);
  } else if (event->button() == Qt::LeftButton && !active_) {
    QMetaObject::invokeMethod(
        &session_, [&d = session_, id = layer_->id] { d.setActive(id); }, Qt::QueuedConnection);
  }
}

void Card::mouseDoubleClickEvent(QMouseEvent*) {
  QMetaObject::invokeMethod(
      this, [this] { rename(); }, Qt::QueuedConnection);
}

void Card::setFindings(int count) {
  if (count == findings_) return;
  findings_ = count;
  const QString words =
      count == 0 ? QString() : (count == 1 ? tr("1 finding: see Look over") : tr("%1 findings: see Look over").arg(count));
  setToolTip(words);
  setAccessibleDescription(words);
  update();
}

void Card::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double indent = 14.0 * depth_ + (layer_->clip ? 10 : 0);
  const QRectF sheet = QRectF(rect()).adjusted(indent + 0.5, 0.5, -0.5, -0.5);
  QPainterPath paper;
  paper.addRoundedRect(sheet, 5, 5);
  p.setPen(QPen(theme::colours().line, 1));
  const auto held = session_.inHand();
  const bool beside = !active_ && std::find(held.begin(), held.end(), layer_->id) != held.end();
  p.setBrush(active_ || beside ? theme::colours().open : theme::colours().raised);
  p.drawPath(paper);
  QPen stitch(active_ || beside ? theme::colours().text : theme::colours().blue, active_ || beside ? 2.5 : 1.6);
  stitch.setDashPattern({3, 2.5});
  p.setPen(stitch);
  p.drawLine(QPointF(sheet.left() + 5, sheet.top() + 8), QPointF(sheet.left() + 5, sheet.bottom() - 8));
  if (findings_ > 0) {
    const QPointF knot(sheet.right() - 13, sheet.top() + 13);
    p.setPen(QPen(theme::colours().orange, 1.6));
    p.setBrush(theme::colours().sunk);
    p.drawEllipse(knot, 8, 8);
    p.setPen(theme::colours().text);
    p.setFont(theme::font(theme::Size::small, true));
    p.drawText(QRectF(knot.x() - 8, knot.y() - 8, 16, 16), Qt::AlignCenter, QString::number(findings_));
  }
  if (!layer_->clip) return;
  // A stitched bracket down to the layer that it is confined to.
  p.setPen(QPen(theme::colours().blue, 1.6, Qt::DashLine));
  p.drawPolyline(QPolygonF() << QPointF(indent - 1, 12) << QPointF(indent - 7, 12) << QPointF(indent - 7, height()));
}

}  // namespace hseam::app
