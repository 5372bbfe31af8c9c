#pragma once
// The project: one SQLite file NAME.hseam that holds the source files as they came, every tile of every picture at every
// level, and every Edit as one transaction. What keep() has acknowledged is there after a kill or a power cut.

#include <map>
#include <memory>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/executor.h"
#include "core/scene/history.h"
#include "core/store/tile_reader.h"

namespace hseam::store {

class TileWriter;

/// One thread at a time; the tiles it hands out may be pinned from any.
class ProjectFile {
 public:
  struct Opened;
  /// A new file with one first step. Errors: conflict (it exists), unwritable.
  static base::Result<Opened> create(const std::string& path, const scene::Scene& scene, const std::string& label,
                                     const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor);
  /// Checks header and schema; the whole file only after an unclean close. Errors: notFound, corrupt, unsupported (newer
  /// version), unwritable (read-only place).
  static base::Result<Opened> open(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                   base::Executor& executor);

  /// For looking only: nothing is written, another program may have it open, its folder may be read-only. keep() and the
  /// other writing functions fail on it. Errors: as open().
  static base::Result<Opened> openToRead(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                         base::Executor& executor);

  /// Appends a step after `afterStep` and makes it current; steps that could be redone are dropped. One transaction:
  /// either all of it is on the disk when this returns, or nothing. Writes only pixels that are not in the file yet.
  base::Status keep(const scene::Step& step, const std::string& editKind, int afterStep);
  /// Undo and redo: which step is current.
  base::Status setCurrent(int step);
  /// The file a picture came from, byte for byte. Returns its key.
  base::Result<std::string> addSourceFile(const std::string& path);
  base::Result<std::vector<std::byte>> sourceFile(const std::string& key);
  /// The same as addSourceFile for bytes at hand.
  base::Result<std::string> addSourceBytes(const std::string& fileName, std::span<const std::byte> bytes);
  /// What the file holds. itemBytes: layers, and the tiles of every step, packed.
  struct Contents {
    struct Source {
      std::string key, file;
      std::int64_t bytes;
    };
    int steps = 0;
    std::int64_t itemBytes = 0;
    std::vector<Source> sources;
  };
  base::Result<Contents> contents();
  /// Packed size of a tile that the file holds, else 0.
  std::int64_t packedBytes(const image::ContentHash& tile) const;
  /// A new project that begins with `scene`, of this project. The tiles go on being read from this one. Errors: as create().
  base::Result<Opened> createFromThis(const std::string& path, const scene::Scene& scene, const std::string& label);
  /// A whole copy under a new name, of everything kept so far. An existing file is replaced only once the copy is whole.
  base::Status copyTo(const std::string& path);
  /// Leaves no write-ahead log behind. Called by the destructor if not before.
  base::Status close();
  const std::string& path() const { return path_; }
  ~ProjectFile();

 private:
  ProjectFile(std::string path, Database database, Database::Mode reading, const std::shared_ptr<image::TileMemory>& memory,
              base::Executor& executor);
  static base::Result<Opened> begin(const std::string& path, const scene::Scene& scene, const std::string& label,
                                    const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor, bool leaveTiles);
  base::Status makeSchema();
  base::Status checkHeader();
  base::Status checkAfterUncleanClose();
  base::Result<scene::History> readHistory();
  base::Status insertStep(int sequence, const scene::Step& step, const std::string& editKind);
  base::Result<std::string> nameOfLayer(const scene::LayerRef& layer, TileWriter& tiles);
  base::Result<std::string> nameOfImage(const image::TiledImage& image, TileWriter& tiles);
  base::Result<scene::LayerRef> layerNamed(const std::string& name);
  base::Result<image::TiledImage> imageNamed(const std::string& name);
  base::Result<std::vector<std::byte>> itemNamed(const std::string& name);

  std::string path_;
  Database database_;
  std::shared_ptr<image::TileMemory> memory_;
  base::Executor& executor_;
  std::shared_ptr<TileReader> reader_;
  bool open_ = true;
  bool leaveTiles_ = false;
  static constexpr int kMostDepth = 64;
  int depth_ = 0;  // of groups, while they are read
  // What has a name in the file already. Layers are held, so that an address cannot be used twice.
  std::map<scene::LayerRef, std::string> layerNames_;
  std::unordered_map<std::uint64_t, std::string> imageNames_;  // by stamp
  std::unordered_map<std::string, image::TiledImage> imagesRead_;
  std::unordered_map<std::string, scene::LayerRef> layersRead_;
};

/// The key under which addSourceFile keeps a file: the hash of its bytes. Any thread. Errors: unreadable.
base::Result<std::string> sourceKeyOf(const std::string& path);

struct ProjectFile::Opened {
  std::unique_ptr<ProjectFile> file;
  scene::History history;
  bool wasUnclean = false;  // the last program that wrote it did not close it
};

}  // namespace hseam::store
