#include "app/theme/sign.h"

#include <QFile>
#include <QIconEngine>
#include <QPainter>
#include <QSvgRenderer>

#include "app/theme/theme.h"

namespace hseam::app::theme {
namespace {

// The signs are drawn in black lines; black becomes the ink at painting, so that a change of look needs nothing new.
class SignEngine final : public QIconEngine {
 public:
  explicit SignEngine(QByteArray drawing) : drawing_(std::move(drawing)) {}
  void paint(QPainter* painter, const QRect& rect, QIcon::Mode mode, QIcon::State) override {
    const QColor ink = mode == QIcon::Disabled ? colours().textOff : colours().blue;
    QByteArray inked = drawing_;
    inked.replace("#000", ink.name().toLatin1());
    QSvgRenderer(inked).render(painter, rect);
  }
  QPixmap pixmap(const QSize& size, QIcon::Mode mode, QIcon::State state) override {
    QPixmap map(size);
    map.fill(Qt::transparent);
    QPainter painter(&map);
    paint(&painter, map.rect(), mode, state);
    return map;
  }
  QIconEngine* clone() const override { return new SignEngine(drawing_); }

 private:
  QByteArray drawing_;
};

}  // namespace

QIcon sign(const char* name) {
  QFile file(QStringLiteral(":/theme/icons/sign-%1.svg").arg(QLatin1String(name)));
  return file.open(QIODevice::ReadOnly) ? QIcon(new SignEngine(file.readAll())) : QIcon();
}

}  // namespace hseam::app::theme
