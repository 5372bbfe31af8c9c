#include "app/contact/contact_sheet.h"

#include <QKeyEvent>
#include <QListView>
#include <QPainter>
#include <QStackedLayout>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/contact/picture_panes.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr int kCellWidth = 170, kCellHeight = 178, kRim = 8;

// A small picture, its name, and what was said of it: a bar for keep, a half one for perhaps, a stroke through it for out.
class CellPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {kCellWidth, kCellHeight}; }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const theme::Colours& c = theme::colours();
    const QRect cell = option.rect.adjusted(3, 3, -3, -3);
    const bool chosen = option.state & QStyle::State_Selected;
    p->fillRect(cell, chosen ? c.open : c.raised);
    if (option.state & QStyle::State_HasFocus || chosen) {
      p->setPen(c.blue);
      p->drawRect(cell.adjusted(0, 0, -1, -1));
    }
    const auto rating = image::Rating(index.data(FolderModel::kRating).toInt());
    const QRect room = cell.adjusted(kRim, kRim, -kRim, -kRim - 24);
    const QImage picture = index.data(Qt::DecorationRole).value<QImage>();
    p->setFont(theme::font(theme::Size::small));
    if (picture.isNull()) {
      p->setPen(c.quiet);
      const QString problem = index.data(FolderModel::kProblem).toString();
      p->drawText(room, Qt::AlignCenter | Qt::TextWordWrap, problem.isEmpty() ? QStringLiteral("…") : problem);
    } else {
      QRect where({}, picture.size().scaled(room.size(), Qt::KeepAspectRatio));
      where.moveCenter(room.center());
      if (rating == image::Rating::out) p->setOpacity(0.35);
      p->drawImage(where, picture);
      p->setOpacity(1);
      if (rating == image::Rating::out) {
        p->setPen(QPen(c.text, 2));
        p->drawLine(where.bottomLeft(), where.topRight());
      }
    }
    const QRect foot(cell.left() + kRim, cell.bottom() - 26, cell.width() - 2 * kRim, 22);
    p->setPen(c.text);
    p->drawText(foot, Qt::AlignVCenter | Qt::AlignLeft,
                p->fontMetrics().elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideMiddle,
                                            foot.width() - (rating == image::Rating::none ? 0 : 62)));
    if (rating != image::Rating::none) {
      p->setPen(rating == image::Rating::keep ? c.blue : c.quiet);
      p->drawText(foot, Qt::AlignVCenter | Qt::AlignRight, FolderModel::words(rating));
    }
    if (rating == image::Rating::keep || rating == image::Rating::perhaps)
      p->fillRect(QRect(cell.left(), cell.bottom() - 3, rating == image::Rating::keep ? cell.width() : cell.width() / 2, 3),
                  c.blue);
  }
};

}  // namespace

ContactSheet::ContactSheet(QWidget* parent)
    : QWidget(parent), list_(new QListView), panes_(new PicturePanes), stack_(new QStackedLayout(this)) {
  list_->setModel(&model_);
  list_->setItemDelegate(new CellPainter(list_));
  list_->setViewMode(QListView::IconMode);
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setUniformItemSizes(true);
  list_->setGridSize({kCellWidth, kCellHeight});
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setAccessibleName(tr("Pictures of the folder"));
  list_->setToolTip(tr("Return: look at what is chosen. + keep, . perhaps, − out, Backspace: not looked at"));
  list_->installEventFilter(this);
  panes_->installEventFilter(this);
  stack_->addWidget(list_);
  stack_->addWidget(panes_);
  connect(list_, &QListView::doubleClicked, this, &ContactSheet::look);
  connect(list_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &ContactSheet::changed);
  connect(&model_, &FolderModel::counted, this, &ContactSheet::changed);
  connect(panes_, &PicturePanes::closeAsked, this, &ContactSheet::back);
  connect(panes_, &PicturePanes::stepAsked, this, &ContactSheet::step);
}

QStringList ContactSheet::chosen() const {
  QModelIndexList indices = list_->selectionModel()->selectedIndexes();
  std::sort(indices.begin(), indices.end(), [](const QModelIndex& a, const QModelIndex& b) { return a.row() < b.row(); });
  QStringList out;
  for (const QModelIndex& i : indices) out << i.data(FolderModel::kPath).toString();
  for (int row = 0; indices.isEmpty() && row < model_.rowCount(); ++row) out << model_.path(row);
  return out;
}

bool ContactSheet::looksAtLarge() const {
  return stack_->currentWidget() == panes_;
}

void ContactSheet::look() {
  if (list_->selectionModel()->selectedIndexes().isEmpty() && !list_->currentIndex().isValid()) return;
  QStringList paths = chosen();
  if (list_->selectionModel()->selectedIndexes().isEmpty()) paths = {list_->currentIndex().data(FolderModel::kPath).toString()};
  panes_->show(paths);
  stack_->setCurrentWidget(panes_);
  panes_->setFocus();
  emit changed();
}

void ContactSheet::back() {
  stack_->setCurrentWidget(list_);
  list_->setFocus();
  emit changed();
}

// The next of what is looked at; zoom and place stay.
void ContactSheet::step(int by) {
  QStringList next;
  for (const QString& path : panes_->paths()) {
    const int row = model_.rowOf(path) + by * int(panes_->paths().size());
    if (row < 0 || row >= model_.rowCount()) return;
    next << model_.path(row);
  }
  panes_->show(next);
  list_->selectionModel()->clearSelection();
  for (const QString& path : next) list_->selectionModel()->select(model_.index(model_.rowOf(path)), QItemSelectionModel::Select);
  if (!next.isEmpty()) list_->setCurrentIndex(model_.index(model_.rowOf(next.first())));
  emit changed();
}

void ContactSheet::rate(image::Rating rating) {
  QStringList paths;
  if (looksAtLarge()) {
    paths = panes_->paths();
  } else {
    for (const QModelIndex& i : list_->selectionModel()->selectedIndexes()) paths << i.data(FolderModel::kPath).toString();
  }
  for (const QString& path : paths) {
    const int row = model_.rowOf(path);
    if (row < 0) continue;
    if (const QString problem = model_.rate(model_.index(row), rating); !problem.isEmpty()) {
      emit refused(problem);
      return;
    }
  }
  // One after the other: what was said of it leads on to the next.
  if (paths.size() == 1 && rating != image::Rating::none) {
    if (looksAtLarge()) {
      step(1);
    } else if (const int row = model_.rowOf(paths.first()) + 1; row < model_.rowCount()) {
      list_->setCurrentIndex(model_.index(row));
    }
  }
}

bool ContactSheet::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  const auto* key = static_cast<QKeyEvent*>(event);
  switch (key->key()) {
    case Qt::Key_Plus:
      rate(image::Rating::keep);
      return true;
    case Qt::Key_Period:
      rate(image::Rating::perhaps);
      return true;
    case Qt::Key_Minus:
      rate(image::Rating::out);
      return true;
    case Qt::Key_Backspace:
      rate(image::Rating::none);
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (watched != list_) break;
      look();
      return true;
    default:
      break;
  }
  return QWidget::eventFilter(watched, event);
}

}  // namespace hseam::app
