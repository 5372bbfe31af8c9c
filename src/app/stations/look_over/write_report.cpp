#include "app/stations/look_over/write_report.h"

#include <QBuffer>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>

#include "app/stations/look_over/ways_of_seeing.h"
#include "core/render/renderer.h"

namespace hseam::app {
namespace {

using findings::Verdict;

// A part of the scene as a small picture, as these eyes see it; a data: address.
std::string reportPicture(const scene::Scene& scene, const base::Rect& region, Eyes eyes) {
  const base::Rect part = region.intersected(base::Rect::of(scene.canvas));
  if (part.empty()) return {};
  int level = 0;
  while ((part.width >> level) > 480 || (part.height >> level) > 360) ++level;
  base::InlineExecutor here;
  const base::Rect area = part.coarser(level).intersected(base::Rect::of(render::canvasAt(scene, level)));
  auto pixels = render::Renderer().render(scene, area, level, here);
  if (!pixels.ok()) return {};
  View view;
  view.eyes = eyes;
  if (reachOf(eyes) > 0) seeAround(*pixels, eyes);
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  toScreen(*pixels, area.x, area.y, view).save(&buffer, "PNG");
  return "data:image/png;base64," + bytes.toBase64().toStdString();
}

// The whole scene; of eyes that look at single pixels, a piece in full size, where most gives it away.
base::Rect seenIn(const scene::Scene& scene, const findings::Report& report, Eyes eyes) {
  const base::Rect whole = base::Rect::of(scene.canvas);
  if (reachOf(eyes) == 0) return whole;
  const base::Rect about = report.findings.empty() ? whole : report.findings.front().region;
  return base::Rect{about.x + about.width / 2 - 240, about.y + about.height / 2 - 180, 480, 360}.intersected(whole);
}

}  // namespace

void writeReport(Session& session, Messages& messages, const findings::Report& report, const QString& path) {
  QSaveFile file(path);
  if (!file.open(QIODevice::WriteOnly)) {
    emit messages.refused(QObject::tr("%1 cannot be written: %2").arg(path, file.errorString()));
    return;
  }
  if (path.endsWith(QStringLiteral(".json"), Qt::CaseInsensitive)) {
    file.write(QByteArray::fromStdString(findings::reportJson(report, 0)));
  } else {
    const scene::Scene& scene = session.scene();
    std::vector<findings::ReportPicture> pictures, views;
    for (const Verdict& v : report.findings)
      pictures.push_back({findings::kindOf(v.kind).name, reportPicture(scene, v.region.grown(24), Eyes::plain)});
    for (const WayOfSeeing& w : waysOfSeeing())
      views.push_back({w.name.toStdString(), reportPicture(scene, seenIn(scene, report, w.eyes), w.eyes)});
    const QString page = QString::fromStdString(findings::reportHtml(report, session.title().toStdString(), pictures, views));
    if (path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive)) {
      QPdfWriter writer(&file);
      writer.setPageSize(QPageSize(QPageSize::A4));
      writer.setTitle(session.title());
      QTextDocument document;
      document.setHtml(page);
      document.print(&writer);
    } else {
      file.write(page.toUtf8());
    }
  }
  if (file.commit()) {
    emit messages.said(QObject::tr("The report is written to %1").arg(path));
  } else {
    emit messages.refused(QObject::tr("%1 cannot be written: %2").arg(path, file.errorString()));
  }
}

}  // namespace hseam::app
