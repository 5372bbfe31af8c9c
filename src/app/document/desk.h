#pragma once
// What all stations share: the open document, the jobs, the memory for pixels, and ways to say something to the user.

#include <QObject>
#include <QSettings>
#include <functional>
#include <map>
#include <memory>

#include "app/document/aside.h"
#include "app/document/document.h"
#include "app/document/jobs.h"
#include "core/image/tiled_image.h"
#include "core/store/open_raster.h"

namespace hseam::app {

class Desk : public QObject {
  Q_OBJECT

 public:
  explicit Desk(QObject* parent = nullptr);
  ~Desk() override;

  Document& document() { return *document_; }
  const scene::Scene& scene() const { return document_->scene(); }
  const scene::Layer* active() const { return document_->activeLayer(); }
  Jobs& jobs() { return jobs_; }
  /// Small things worked out beside the UI thread for the interface alone.
  Aside& aside() { return aside_; }
  /// For short work of the UI thread itself (a dab, a shape). Not the pool: there it would wait for a running job.
  base::Executor& executor() { return here_; }
  const std::shared_ptr<image::TileMemory>& memory() const { return memory_; }
  bool apply(const scene::Edit& edit) { return document_->apply(edit); }
  /// What was worked out of the scene `from` for a while; refused, with a sentence, if what it replaces has changed since.
  bool applyResult(const scene::Edit& edit, const scene::Scene& from);

  /// Asked before another project takes the place of one whose last steps are not on the disk; false: it stays.
  void setMayLeave(std::function<bool()> mayLeave) { mayLeave_ = std::move(mayLeave); }

  /// A new untitled scene in a file of the recovery folder. canvas: px.
  void newScene(base::Size canvas);
  /// Opens a project; reading runs as a job. One that another window has, or that a newer version made, opens for looking.
  /// then: once it is open.
  void openProject(const QString& path, const std::function<void()>& then = {});
  /// Reads pictures as a job and adds each as a layer, fitted into the canvas. With no layers yet, the first one gives the
  /// canvas its size.
  void addPictures(const QStringList& paths);
  /// Reads another project's scene, to be looked through and taken from; answered by layersOffered.
  void askLayersOf(const QString& path);
  struct Offered {
    QString file;
    scene::Scene scene;
    std::map<std::string, std::pair<std::string, std::vector<std::byte>>> sources;  // by key: file name and bytes
  };
  /// The chosen layers of it come into this scene, in front, with their masks, cuts and source files.
  void bring(const Offered& from, const std::vector<scene::LayerId>& layers);
  /// A picture, or files, from the clipboard. False: there is none.
  bool paste();
  /// Another picture in the active layer's place; mask, adjustments and cut stay.
  void replaceActive(const QString& path);
  static QString picturesFilter();
  /// A whole copy; the work goes on in the open project.
  void saveCopy(const QString& path);
  void archive(const QString& path);
  /// Answered by slimReported.
  void askSlimReport();
  void slim(const QString& path);
  /// Pictures, layered files (as they are into an empty scene, else as a group) and a project, as they come by dropping or on the
  /// command line. A file that cannot be read is told, the others come in; pictures beside a project go into it.
  void openFiles(const QStringList& paths);
  /// The project goes on under a new name, with all that is done meanwhile; an untitled file goes once the new one is there.
  void saveAs(const QString& path);
  bool isUntitled() const;
  /// "Lamplighter poster" or "untitled".
  QString title() const;
  QStringList recents() const;
  /// Untitled projects that a crash left behind: newest first.
  QStringList leftBehind() const;
  void discardLeftBehind(const QString& path);
  static QString recoveryFolder();

 signals:
  void documentChanged();  // another document is open
  void sceneChanged();
  void historyChanged();
  void activeChanged();
  void keptChanged();
  void pathChanged();
  void slimReported(const QString& words);
  void layersOffered(const std::shared_ptr<const hseam::app::Desk::Offered>& offered);
  void said(const QString& sentence);     // for the status line
  void refused(const QString& sentence);  // an error, shown until dismissed

 private:
  void take(store::ProjectFile::Opened opened, const QString& onlyLooking = {});
  bool mayLeave() const { return !mayLeave_ || mayLeave_(); }
  void remember(const QString& path);
  void addNext(QStringList rest, QStringList told);
  void takeLayered(const QString& path, const store::OpenRasterRead& read);
  void keepSource(const QString& path);
  void saveCopyAndGoOn(const QString& path);
  Keeper::Told sayWhenDone(const std::function<QString()>& words);

  std::shared_ptr<image::TileMemory> memory_;
  Jobs jobs_;
  Aside aside_;
  base::InlineExecutor here_;
  std::function<bool()> mayLeave_;
  std::unique_ptr<Document> document_;
};

}  // namespace hseam::app
