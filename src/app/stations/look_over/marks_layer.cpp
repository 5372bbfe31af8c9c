#include "app/stations/look_over/marks_layer.h"

#include <QImage>
#include <QPainter>
#include <algorithm>
#include <cstring>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

struct Mark {
  QRectF where;
  QString text;
};

QImage drawn(QSize canvas, const std::vector<Mark>& marks) {
  QImage image(canvas, QImage::Format_RGBA8888);
  image.fill(Qt::transparent);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  // As large as they are seen when the whole picture is.
  const double unit = std::max(1.0, std::max(canvas.width(), canvas.height()) / 1100.0);
  QFont font = theme::font(theme::Size::small, true);
  font.setPixelSize(int(13 * unit));
  p.setFont(font);
  for (const Mark& m : marks) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(QColor(20, 20, 20), 3.5 * unit));
    p.drawRect(m.where);
    p.setPen(QPen(QColor(255, 190, 90), 1.8 * unit));
    p.drawRect(m.where);
    QRectF box = p.fontMetrics().boundingRect(m.text).toRectF().adjusted(-4 * unit, -2 * unit, 4 * unit, 2 * unit);
    box.moveTopLeft({std::clamp(m.where.left(), 0.0, std::max(0.0, canvas.width() - box.width())),
                     std::max(0.0, m.where.top() - box.height())});
    p.fillRect(box, QColor(20, 20, 20, 220));
    p.setPen(Qt::white);
    p.drawText(box, Qt::AlignCenter, m.text);
  }
  return image;
}

}  // namespace

void addMarks(Session& session, Lane& jobs, const std::vector<findings::Verdict>& findings) {
  std::vector<Mark> marks;
  for (std::size_t i = 0; i < findings.size(); ++i) {
    const auto& v = findings[i];
    marks.push_back({QRectF(v.region.x, v.region.y, v.region.width, v.region.height),
                     QStringLiteral("%1 %2: %3")
                         .arg(i + 1)
                         .arg(QString::fromStdString(v.layerName), QObject::tr(findings::kindOf(v.kind).name))});
  }
  const base::Size canvas = session.scene().canvas;
  jobs.start<image::TiledImage>(
      QObject::tr("Draw the marks"),
      [marks, canvas, memory = session.memory()](base::Executor& e, const base::Progress& progress) {
        const QImage image = drawn({canvas.width, canvas.height}, marks);
        return image::tiledFromRows(canvas, image::PixelFormat::rgba8, memory, e, progress,
                                    [&](int first, int count, std::byte* rows) -> base::Status {
                                      for (int y = 0; y < count; ++y)
                                        std::memcpy(rows + std::size_t(y) * std::size_t(canvas.width) * 4,
                                                    image.constScanLine(first + y), std::size_t(canvas.width) * 4);
                                      return {};
                                    });
      },
      [&session](const image::TiledImage& made) {
        scene::Layer l;
        l.id = scene::freeId(session.scene());
        l.name = "marks of findings";
        scene::PictureContent p;
        p.source = made;
        p.sourceName = "marks of findings";
        p.byHand = true;  // nothing that is judged
        l.content = std::move(p);
        session.apply(scene::AddLayer{std::move(l), {}, int(session.scene().layers.size())});
      });
}

}  // namespace hseam::app
