#pragma once
// The project: one SQLite file NAME.hseam that holds the source files as they came, every tile of every picture at every
// level, and every Edit as one transaction. What keep() has acknowledged is there after a kill or a power cut.

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/scene/history.h"
#include "core/store/project_lock.h"
#include "core/store/sources.h"
#include "core/store/step_reader.h"

namespace hseam::store {

class TileWriter;

/// One thread at a time; tiles may be pinned, and the history read, on any thread. A project open for writing is locked against
/// other writers.
class ProjectFile {
 public:
  struct Opened;
  /// A new file with one first step. Errors: conflict (it exists, or somebody holds its lock), unwritable.
  static base::Result<Opened> create(const std::string& path, const scene::Scene& scene, const std::string& label,
                                     const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor);
  /// Checks header and schema, and brings a project of an older version to this one; the whole file is checked only after an
  /// unclean close. Reads the current step alone. Errors: notFound, corrupt, unsupported (made by a newer version: openToRead may
  /// read it), conflict (another window or program has it: openToRead may), unwritable (read-only place).
  static base::Result<Opened> open(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                   base::Executor& executor);

  /// For looking only: nothing is written, another program may have it open, its folder may be read-only. keep() and the
  /// other writing functions fail on it. Errors: as open(), but unsupported only for what cannot be understood.
  static base::Result<Opened> openToRead(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                         base::Executor& executor);

  /// Appends a step after `afterStep` and makes it current; steps that could be redone are dropped. One transaction:
  /// either all of it is on the disk when this returns, or nothing. Writes only pixels that are not in the file yet. Errors:
  /// conflict (the file does not have `afterStep`: nothing is written that would leave a gap), what the disk says.
  base::Status keep(const scene::Step& step, const std::string& editKind, int afterStep);
  /// Undo and redo: which step is current. Errors: conflict (there is no such step).
  base::Status setCurrent(int step);
  /// The file a picture came from, byte for byte. Returns its key.
  base::Result<std::string> addSourceFile(const std::string& path, std::size_t partBytes = kSourcePart);
  base::Result<std::vector<std::byte>> sourceFile(const std::string& key);
  /// The same as addSourceFile for bytes at hand.
  base::Result<std::string> addSourceBytes(const std::string& fileName, std::span<const std::byte> bytes);
  /// What the file holds. itemBytes: layers, and the tiles of every step, packed.
  struct Contents {
    int steps = 0;
    std::int64_t itemBytes = 0;
    std::vector<Source> sources;
  };
  base::Result<Contents> contents();
  /// Packed size of a tile that the file holds, else 0.
  std::int64_t packedBytes(const image::ContentHash& tile) const;
  /// A new project that begins with `scene`, of this project. The tiles go on being read from this one. Errors: as create().
  base::Result<Opened> createFromThis(const std::string& path, const scene::Scene& scene, const std::string& label);
  /// A whole copy under a new name, of everything kept so far. An existing file is replaced only once the copy is whole. Errors:
  /// conflict (it is this project, or a project that is open), unwritable.
  base::Status copyTo(const std::string& path);
  /// As copyTo(), then continues with the copy: path, lock, writing and reading. The old file is closed or removed; if this
  /// fails, nothing changes. Errors: as copyTo().
  enum class Old { stays, goes };
  base::Status moveTo(const std::string& path, Old old);
  /// Removes the write-ahead log and releases the lock. The destructor calls it if needed.
  base::Status close();
  const std::string& path() const { return path_; }
  ~ProjectFile();

 private:
  ProjectFile(std::string path, Database database, Database::Mode reading, const std::shared_ptr<image::TileMemory>& memory,
              base::Executor& executor);
  static base::Result<Opened> begin(const std::string& path, const scene::Scene& scene, const std::string& label,
                                    const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor, bool leaveTiles);
  base::Status makeSchema();
  base::Status checkHeader(bool toWrite);
  base::Status checkAfterUncleanClose();
  struct Steps;
  base::Result<Steps> listSteps();
  base::Status closeGaps(Steps& steps);
  base::Result<Opened> readHistory(bool toWrite);
  base::Status insertStep(int sequence, const scene::Step& step, const std::string& editKind);
  base::Status checkStep(int step);
  base::Result<std::string> nameOfLayer(const scene::LayerRef& layer, TileWriter& tiles, StepReader::Names& fresh);
  base::Result<std::string> nameOfImage(const image::TiledImage& image, TileWriter& tiles, StepReader::Names& fresh);

  std::string path_;
  std::optional<ProjectLock> lock_;  // of who writes
  Database database_;
  std::int64_t version_ = 0;
  std::shared_ptr<image::TileMemory> memory_;
  base::Executor& executor_;
  std::shared_ptr<ReadPool> pool_;
  std::shared_ptr<TileReader> tiles_;
  std::shared_ptr<StepReader> steps_;
  bool open_ = true;
  bool leaveTiles_ = false;
};

struct ProjectFile::Opened {
  std::unique_ptr<ProjectFile> file;
  scene::History history;
  bool wasUnclean = false;        // the last program that wrote it did not close it
  std::vector<int> missingSteps;  // as they were numbered; a program that failed to write them left gaps. The others are there
};

}  // namespace hseam::store
