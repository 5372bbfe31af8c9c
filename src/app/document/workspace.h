#pragma once
// Projects on the disk: which one is open, opening others, what comes in from files, copies and archives. UI thread only; reading
// and writing go on elsewhere.

#include <QObject>
#include <QSettings>
#include <functional>
#include <map>
#include <memory>

#include "app/document/desk.h"
#include "app/document/document.h"
#include "core/store/open_raster.h"
#include "core/store/shelf.h"
#include "core/tasks/place.h"

namespace hseam::app {

class Workspace : public QObject {
  Q_OBJECT

 public:
  /// Begins with an untitled scene. The desk must outlive it; its session works on the project that is open.
  explicit Workspace(Desk& desk, QObject* parent = nullptr);
  ~Workspace() override;

  /// Of the open project.
  Document& document() { return *document_; }
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
  /// A picture of the shelf as a layer in front, with what is known of it; its file goes into the project.
  void addFromShelf(const store::ShelfItem& item);
  /// The bytes of a source file that the project holds, a moment later; none, if it does not.
  void askSource(const std::string& key, const std::function<void(const std::vector<std::byte>&)>& then);
  /// A picture, or files, from the clipboard. False: there is none.
  bool paste();
  /// Another picture in the active layer's place; mask, adjustments and cut stay.
  void replaceActive(const QString& path);
  /// "*.jpg" and the like, of all that is read as a picture.
  static const QStringList& pictureEndings();
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
  void keptChanged();
  void pathChanged();
  void slimReported(const QString& words);
  void layersOffered(const std::shared_ptr<const hseam::app::Workspace::Offered>& offered);

 private:
  void take(store::ProjectFile::Opened opened, const QString& onlyLooking = {});
  bool mayLeave() const { return !mayLeave_ || mayLeave_(); }
  void remember(const QString& path);
  void addNext(QStringList rest, QStringList told);
  void takeLayered(const QString& path, const store::OpenRasterRead& read);
  void place(const image::TiledImage& pixels, const tasks::PlaceOptions& options);
  void keepSource(const QString& path);
  void saveCopyAndGoOn(const QString& path);
  Keeper::Told sayWhenDone(const std::function<QString()>& words);
  void said(const QString& sentence) { emit desk_.messages.said(sentence); }
  void refused(const QString& sentence) { emit desk_.messages.refused(sentence); }
  const scene::Scene& scene() const { return desk_.session.scene(); }

  Desk& desk_;
  std::function<bool()> mayLeave_;
  std::unique_ptr<Document> document_;
};

}  // namespace hseam::app
