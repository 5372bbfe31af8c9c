// What comes into the scene: pictures, layered files, the clipboard; and another picture in a layer's place.

#include <QClipboard>
#include <QColorSpace>
#include <QFileInfo>
#include <QGuiApplication>
#include <QImage>
#include <QMimeData>
#include <QUrl>
#include <cstring>
#include <variant>

#include "app/document/workspace.h"
#include "core/image/picture_file.h"
#include "core/matte/foreground.h"
#include "core/render/canvas_change.h"
#include "core/store/open_raster.h"
#include "core/tasks/shelve.h"

namespace hseam::app {
namespace {

struct ReadFile {
  image::Picture picture;
  std::string key;
  image::Metadata about;
};
base::Result<ReadFile> readFile(const QString& path, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                const base::Progress& progress) {
  HSEAM_TRY(image::Picture picture, image::readPicture(path.toStdString(), memory, executor, progress));
  HSEAM_TRY(std::string key, store::sourceKeyOf(path.toStdString()));
  // A picture whose words about itself cannot be read is a picture still.
  const auto about = image::readMetadata(path.toStdString());
  return ReadFile{std::move(picture), std::move(key), about.ok() ? *about : image::Metadata{}};
}

bool isLayered(const QString& path) {
  return path.endsWith(QStringLiteral(".ora"), Qt::CaseInsensitive);
}

}  // namespace

const QStringList& Workspace::pictureEndings() {
  static const QStringList all{"*.jpg", "*.jpeg", "*.png", "*.tif", "*.tiff", "*.webp", "*.exr", "*.dng", "*.cr2",
                               "*.cr3", "*.nef",  "*.arw", "*.orf", "*.rw2",  "*.raf",  "*.pef", "*.srw"};
  return all;
}

QString Workspace::picturesFilter() {
  return tr("Pictures (%1)").arg(pictureEndings().join(QLatin1Char(' ')));
}

void Workspace::addPictures(const QStringList& paths) {
  addNext(paths, {});
}

// In front of everything; the first picture gives the canvas its size.
void Workspace::place(const image::TiledImage& pixels, const tasks::PlaceOptions& options) {
  for (const scene::AnyEdit& e : tasks::placed(scene(), pixels, options).edits) desk_.session.apply(e.edit);
}

// The file itself goes into the project as it came, on the writing thread.
void Workspace::keepSource(const QString& path) {
  document_->keep([this, path](store::ProjectFile& file) -> base::Status {
    const auto key = file.addSourceFile(path.toStdString());
    // A file that is gone by now holds nothing up: its picture is in the project, the file itself is not.
    if (!key.ok() && key.error().code == base::Code::unreadable) {
      QMetaObject::invokeMethod(
          this,
          [this, path] {
            refused(tr("%1 itself could not be kept with the project (is it still there?); its picture is.")
                        .arg(QFileInfo(path).fileName()));
          },
          Qt::QueuedConnection);
      return {};
    }
    return key.ok() ? base::Status() : base::Status(key.error());
  });
}

// Reads one file after another; what cannot be read is told by its name, and the others come in.
void Workspace::addNext(QStringList rest, QStringList told) {
  if (rest.isEmpty()) {
    if (!told.isEmpty()) refused(told.join(QLatin1Char('\n')));
    return;
  }
  const QString path = rest.takeFirst(), name = QFileInfo(path).fileName();
  struct Read {
    std::variant<ReadFile, store::OpenRasterRead, base::Error> what;
  };
  desk_.jobs.start<Read>(
      tr("Read %1").arg(name),
      [path, memory = desk_.session.memory()](base::Executor& executor, const base::Progress& progress) -> base::Result<Read> {
        Read read{base::Error{}};
        if (isLayered(path)) {
          auto layered = store::readOpenRaster(path.toStdString(), memory, executor, progress);
          if (layered.ok()) {
            read.what = std::move(*layered);
          } else {
            read.what = layered.error();
          }
        } else {
          auto picture = readFile(path, memory, executor, progress);
          if (picture.ok()) {
            read.what = std::move(*picture);
          } else {
            read.what = picture.error();
          }
        }
        if (const auto* e = std::get_if<base::Error>(&read.what); e && e->code == base::Code::cancelled) return *e;
        return read;
      },
      [this, path, name, rest, told](const Read& read) mutable {
        std::vector<std::string> warnings;
        if (const auto* picture = std::get_if<ReadFile>(&read.what)) {
          const image::TiledImage& pixels = picture->picture.pixels;
          keepSource(path);
          place(pixels, {QFileInfo(path).completeBaseName().toStdString(), name.toStdString(), picture->key, picture->about});
          warnings = picture->picture.warnings;
        } else if (const auto* layered = std::get_if<store::OpenRasterRead>(&read.what)) {
          takeLayered(path, *layered);
          warnings = layered->warnings;
        } else {
          told << QString::fromStdString(std::get<base::Error>(read.what).text());
        }
        for (const std::string& w : warnings) told << tr("%1: %2").arg(name, QString::fromStdString(w));
        addNext(rest, told);
      });
}

void Workspace::openFiles(const QStringList& paths) {
  QStringList projects, others;
  for (const QString& p : paths) (p.endsWith(QStringLiteral(".hseam"), Qt::CaseInsensitive) ? projects : others).push_back(p);
  if (projects.isEmpty()) {
    addNext(others, {});
    return;
  }
  // One project is open at a time; pictures that came beside it go into it.
  QStringList told;
  for (const QString& p : projects.mid(1))
    told << tr("%1 was not opened: one project is open at a time.").arg(QFileInfo(p).fileName());
  openProject(projects.front(), [this, others, told] { addNext(others, told); });
}

void Workspace::addFromShelf(const store::ShelfItem& item) {
  const QString path = QString::fromStdString(item.file);
  desk_.jobs.start<ReadFile>(
      tr("Read %1").arg(QString::fromStdString(item.name)),
      [path, memory = desk_.session.memory()](base::Executor& executor, const base::Progress& progress) {
        return readFile(path, memory, executor, progress);
      },
      [this, item, path](const ReadFile& read) {
        keepSource(path);
        for (const scene::AnyEdit& e : tasks::fromShelf(scene(), item, read.picture.pixels, read.key, read.about).edits)
          desk_.session.apply(e.edit);
      });
}

void Workspace::askSource(const std::string& key, const std::function<void(const std::vector<std::byte>&)>& then) {
  const auto bytes = std::make_shared<std::vector<std::byte>>();
  document_->post(
      [key, bytes](store::ProjectFile& file) -> base::Status {
        HSEAM_TRY(*bytes, file.sourceFile(key));
        return {};
      },
      [then, bytes](const base::Status&) { then(*bytes); });
}

// The layers come in as they are where there are none yet, else as a group.
void Workspace::takeLayered(const QString& path, const store::OpenRasterRead& read) {
  keepSource(path);
  scene::Several all{"layers of " + QFileInfo(path).fileName().toStdString(), {}};
  if (scene().layers.empty()) {
    all.edits.push_back({scene::SetCanvas{read.scene.canvas}});
    for (const auto& l : read.scene.layers) all.edits.push_back({scene::AddLayer{*l, {}, -1}});
  } else {
    scene::Layer group;
    group.name = QFileInfo(path).completeBaseName().toStdString();
    group.id = scene::freeId(read.scene);
    group.content = scene::GroupContent{read.scene.layers};
    scene::Layer own = scene::duplicate(scene(), group);
    own.name = group.name;
    all.edits.push_back({scene::AddLayer{std::move(own), {}, -1}});
  }
  desk_.session.apply(all);
}

void Workspace::askLayersOf(const QString& path) {
  desk_.jobs.start<std::shared_ptr<const Offered>>(
      tr("Read %1").arg(QFileInfo(path).fileName()),
      [path, memory = desk_.session.memory()](base::Executor& executor,
                                              const base::Progress&) -> base::Result<std::shared_ptr<const Offered>> {
        HSEAM_TRY(store::ProjectFile::Opened opened, store::ProjectFile::openToRead(path.toStdString(), memory, executor));
        auto out = std::make_shared<Offered>();
        out->file = path;
        out->scene = opened.history.scene();
        HSEAM_TRY(const auto contents, opened.file->contents());
        for (const auto& s : contents.sources) {
          HSEAM_TRY(auto bytes, opened.file->sourceFile(s.key));
          out->sources[s.key] = {s.file, std::move(bytes)};
        }
        return std::shared_ptr<const Offered>(std::move(out));
      },
      [this](const std::shared_ptr<const Offered>& offered) { emit layersOffered(offered); });
}

void Workspace::bring(const Offered& from, const std::vector<scene::LayerId>& layers) {
  scene::Layer carrier;
  carrier.id = {~std::uint64_t{0} >> 1};
  scene::GroupContent chosen;
  for (const auto& l : from.scene.layers) {
    if (std::find(layers.begin(), layers.end(), l->id) != layers.end()) chosen.layers.push_back(l);
  }
  carrier.content = std::move(chosen);
  // Together, so that a shadow goes on following its subject.
  const scene::Layer own = scene::duplicate(scene(), carrier);
  scene::Several all{"layers of " + QFileInfo(from.file).completeBaseName().toStdString(), {}};
  std::vector<std::string> keys;
  for (const auto& l : own.group()->layers) {
    if (!l->picture() && !l->mask.coverage.isNull() && l->mask.coverage.size() != scene().canvas) {
      refused(tr("%1 has a mask of another canvas's size and stays behind").arg(QString::fromStdString(l->name)));
      continue;
    }
    all.edits.push_back({scene::AddLayer{*l, {}, -1}});
    scene::Scene alone;
    alone.layers = {l};
    for (const auto& each : scene::allLayers(alone)) {
      if (each->picture() && !each->picture()->sourceHash.empty()) keys.push_back(each->picture()->sourceHash);
    }
  }
  for (const std::string& key : keys) {
    const auto source = from.sources.find(key);
    if (source == from.sources.end()) continue;
    document_->keep([name = source->second.first, bytes = source->second.second](store::ProjectFile& file) -> base::Status {
      const auto kept = file.addSourceBytes(name, bytes);
      return kept.ok() ? base::Status() : base::Status(kept.error());
    });
  }
  if (!all.edits.empty()) desk_.session.apply(all);
}

bool Workspace::paste() {
  const QMimeData* held = QGuiApplication::clipboard()->mimeData();
  QStringList files;
  for (const QUrl& u : held ? held->urls() : QList<QUrl>()) {
    if (u.isLocalFile()) files.push_back(u.toLocalFile());
  }
  if (!files.isEmpty()) {
    openFiles(files);
    return true;
  }
  QImage image = QGuiApplication::clipboard()->image();
  if (image.isNull()) {
    said(tr("There is no picture in the clipboard"));
    return false;
  }
  if (image.width() > image::kMaxSide || image.height() > image::kMaxSide) {
    refused(tr("The picture in the clipboard is larger than %1 px a side").arg(image::kMaxSide));
    return false;
  }
  if (image.colorSpace().isValid() && image.colorSpace() != QColorSpace(QColorSpace::SRgb))
    image.convertToColorSpace(QColorSpace::SRgb);
  const bool alpha = image.hasAlphaChannel();
  image.convertTo(alpha ? QImage::Format_RGBA8888 : QImage::Format_RGB888);
  desk_.jobs.start<image::TiledImage>(
      tr("Paste"),
      [image, alpha, memory = desk_.session.memory()](base::Executor& executor, const base::Progress& progress) {
        const std::size_t rowBytes = std::size_t(image.width()) * (alpha ? 4 : 3);
        return image::tiledFromRows({image.width(), image.height()}, alpha ? image::PixelFormat::rgba8 : image::PixelFormat::rgb8,
                                    memory, executor, progress, [&](int first, int count, std::byte* rows) -> base::Status {
                                      for (int y = 0; y < count; ++y)
                                        std::memcpy(rows + std::size_t(y) * rowBytes, image.constScanLine(first + y), rowBytes);
                                      return {};
                                    });
      },
      [this](const image::TiledImage& pixels) {
        place(pixels, {tr("pasted").toStdString(), tr("pasted").toStdString(), {}, {}});
      });
  return true;
}

void Workspace::replaceActive(const QString& path) {
  const scene::LayerId layer = desk_.session.active();
  struct Replaced {
    scene::Edit edit;
    std::vector<std::string> warnings;
  };
  desk_.jobs.start<Replaced>(
      tr("Read %1").arg(QFileInfo(path).fileName()),
      [path, layer, s = scene(), memory = desk_.session.memory()](base::Executor& executor,
                                                                  const base::Progress& progress) -> base::Result<Replaced> {
        HSEAM_TRY(const ReadFile read, readFile(path, memory, executor, progress.part(0, 0.5)));
        scene::PictureContent fresh;
        fresh.source = read.picture.pixels;
        fresh.sourceName = QFileInfo(path).fileName().toStdString();
        fresh.sourceHash = read.key;
        fresh.about = read.about;
        // Wherever the same picture is used: each place keeps its own mask, cut and adjustments.
        const std::uint64_t old = scene::findLayer(s, layer)->picture()->source.stamp();
        scene::Several all{"picture replaced: " + fresh.sourceName, {}};
        for (const auto& l : scene::allLayers(s)) {
          if (!l->picture() || l->picture()->source.stamp() != old) continue;
          HSEAM_TRY(scene::Edit edit, render::replacedPicture(s, l->id, fresh, executor));
          // A cut that showed the subject's own colours shows those of the new picture.
          auto& content = std::get<scene::ReplaceSource>(edit).content;
          if (!l->picture()->cutout->clean.isNull() && !content.cutout->alpha.isNull()) {
            HSEAM_TRY(content.cutout.edit().clean,
                      matte::cleanColours(content.source, content.cutout->alpha, executor, progress.part(0.5, 1)));
          }
          all.edits.push_back({std::move(edit)});
          for (auto& light : render::lightsAfterReplacing(s, l->id, fresh.source.size())) all.edits.push_back(std::move(light));
        }
        scene::Edit edit = all.edits.size() == 1 ? all.edits[0].edit : scene::Edit(std::move(all));
        return Replaced{std::move(edit), read.picture.warnings};
      },
      [this, path, from = scene()](const Replaced& r) {
        keepSource(path);
        if (!desk_.session.applyResult(r.edit, from)) return;
        for (const std::string& w : r.warnings)
          refused(QFileInfo(path).fileName() + QStringLiteral(": ") + QString::fromStdString(w));
      });
}

}  // namespace hseam::app
