#include "core/store/project_file.h"

#include <chrono>
#include <filesystem>
#include <new>

#include "core/scene/layer_record.h"
#include "core/store/names.h"
#include "core/store/project_schema.h"
#include "core/store/tile_writer.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using scene::LayerRef;

// The log goes back into the file every 16 MiB: pages that every step touches are then written back once for many steps.
constexpr const char* kWriting = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA wal_autocheckpoint=4096";

std::span<const std::byte> bytesOfText(const std::string& s) {
  return std::as_bytes(std::span(s.data(), s.size()));
}

std::int64_t nowMs() {
  return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch()).count();
}

bool exists(const std::string& path) {
  std::error_code problem;
  return fs::exists(path, problem) && !problem;
}

Error missingProject(const std::string& path) {
  std::error_code problem;
  static_cast<void>(fs::status(path, problem));
  if (problem && problem != std::errc::no_such_file_or_directory && problem != std::errc::not_a_directory)
    return {Code::unreadable, path, "cannot be looked at: " + problem.message()};
  return {Code::notFound, path, "there is no such project"};
}

}  // namespace

ProjectFile::ProjectFile(std::string path, Database database, Database::Mode reading,
                         const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor)
    : path_(std::move(path)),
      database_(std::move(database)),
      memory_(memory),
      executor_(executor),
      pool_(std::make_shared<ReadPool>(path_, reading)),
      tiles_(std::make_shared<TileReader>(pool_)),
      steps_(std::make_shared<StepReader>(pool_, tiles_, memory)) {}

ProjectFile::~ProjectFile() {
  static_cast<void>(close().ok());
}

Result<ProjectFile::Opened> ProjectFile::create(const std::string& path, const scene::Scene& scene, const std::string& label,
                                                const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  return begin(path, scene, label, memory, executor, false);
}

Result<ProjectFile::Opened> ProjectFile::createFromThis(const std::string& path, const scene::Scene& scene,
                                                        const std::string& label) {
  return begin(path, scene, label, memory_, executor_, true);
}

Result<ProjectFile::Opened> ProjectFile::begin(const std::string& path, const scene::Scene& scene, const std::string& label,
                                               const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                               bool leaveTiles) try {
  if (exists(path)) return Error{Code::conflict, path, "a file of this name exists already"};
  HSEAM_TRY(ProjectLock lock, ProjectLock::take(path));
  // Under the lock: whoever made it first has it.
  if (exists(path)) return Error{Code::conflict, path, "a file of this name exists already"};
  auto database = Database::open(path, Database::Mode::create);
  if (!database.ok()) {
    removeProject(path);
    return database.error();
  }
  std::unique_ptr<ProjectFile> file(
      new ProjectFile(path, std::move(database).value(), Database::Mode::readOnly, memory, executor));
  file->lock_ = std::move(lock);
  file->leaveTiles_ = leaveTiles;
  file->version_ = kSchemaVersion;
  scene::Step first{scene, label};
  auto made = file->makeSchema();
  if (made.ok()) made = file->insertStep(0, first, "New");
  if (!made.ok()) {
    file.reset();
    removeProject(path);
    return made.error();
  }
  return Opened{std::move(file), scene::History(std::move(first)), false, {}};
} catch (...) {
  removeProject(path);
  return base::caught(path);
}

Status ProjectFile::makeSchema() {
  HSEAM_DO(database_.execute("PRAGMA page_size=4096"));
  HSEAM_DO(database_.execute(kWriting));
  return makeProjectSchema(database_);
}

Result<ProjectFile::Opened> ProjectFile::open(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                              base::Executor& executor) try {
  if (!exists(path)) return missingProject(path);
  HSEAM_TRY(ProjectLock lock, ProjectLock::take(path));
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::readWrite));
  std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), Database::Mode::readOnly, memory, executor));
  file->open_ = false;  // nothing to close until the header is known to be ours
  HSEAM_DO(file->checkHeader(true));
  HSEAM_DO(file->database_.execute(kWriting));
  HSEAM_TRY(const std::int64_t unclean, file->database_.number("SELECT value FROM meta WHERE key = 'open'"));
  if (unclean) HSEAM_DO(file->checkAfterUncleanClose());
  HSEAM_DO(bringUpToDate(file->database_, file->version_));
  file->version_ = kSchemaVersion;
  HSEAM_TRY(Opened opened, file->readHistory(true));
  HSEAM_DO(file->database_.execute("UPDATE meta SET value = 1 WHERE key = 'open'"));
  file->open_ = true;
  file->lock_ = std::move(lock);
  opened.file = std::move(file);
  opened.wasUnclean = unclean != 0;
  return opened;
} catch (...) {
  return base::caught(path);
}

Result<ProjectFile::Opened> ProjectFile::openToRead(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                                    base::Executor& executor) try {
  if (!exists(path)) return missingProject(path);
  // A file with a write-ahead log opens read-only only where its index can be written; in a read-only folder there can be
  // no writer, so that the file by itself is all there is.
  for (const Database::Mode mode : {Database::Mode::readOnly, Database::Mode::immutable}) {
    HSEAM_TRY(Database database, Database::open(path, mode));
    std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), mode, memory, executor));
    file->open_ = false;
    if (const Status header = file->checkHeader(false); !header.ok()) {
      std::error_code ignored;
      const bool logLeft = fs::exists(path + "-wal", ignored) && fs::file_size(path + "-wal", ignored) > 0;
      if (header.error().code != Code::unwritable || mode == Database::Mode::immutable) return header.error();
      if (logLeft)
        return Error{Code::unwritable, path,
                     "the project was not closed and its folder is read-only; copy it with its -wal file to another folder"};
      continue;
    }
    HSEAM_TRY(Opened opened, file->readHistory(false));
    opened.file = std::move(file);
    return opened;
  }
  return Error{Code::unreadable, path, "the project cannot be read"};
} catch (...) {
  return base::caught(path);
}

Status ProjectFile::checkHeader(bool toWrite) {
  HSEAM_TRY(version_, versionOf(database_, toWrite));
  return {};
}

Status ProjectFile::checkAfterUncleanClose() {
  HSEAM_TRY(Statement check, database_.prepare("PRAGMA integrity_check(1)"));
  HSEAM_TRY(const bool row, check.step());
  if (!row || check.text(0) != "ok")
    return Error{Code::corrupt, path_, "the project was damaged when it was last open: " + check.text(0)};
  return {};
}

// What is written of the steps without their scenes, in order.
struct ProjectFile::Steps {
  std::vector<scene::StepHead> heads;
  std::vector<int> sequences;  // by place in heads
  int current = -1;            // place in heads
  std::vector<int> missing;    // sequences
};

Result<ProjectFile::Steps> ProjectFile::listSteps() {
  HSEAM_TRY(const std::int64_t current, database_.number("SELECT value FROM meta WHERE key = 'current'"));
  HSEAM_TRY(Statement s, database_.prepare("SELECT sequence, label, kind, at_ms FROM step ORDER BY sequence"));
  Steps steps;
  int expected = 0;
  while (true) {
    HSEAM_TRY(const bool row, s.step());
    if (!row) break;
    const std::int64_t sequence = s.number(0);
    if (sequence < 0 || sequence > kMostSteps) return Error{Code::corrupt, path_, "the project's steps are numbered wrongly"};
    for (; expected < sequence && steps.missing.size() < 1000; ++expected) steps.missing.push_back(expected);
    expected = int(sequence) + 1;
    // A current step that was never written: the last one before it.
    if (sequence <= current) steps.current = int(steps.heads.size());
    steps.sequences.push_back(int(sequence));
    steps.heads.push_back({s.text(1), s.text(2), s.number(3)});
  }
  if (current >= expected) steps.missing.push_back(int(std::min<std::int64_t>(current, kMostSteps)));
  if (steps.heads.empty()) return Error{Code::corrupt, path_, "the project has no steps"};
  steps.current = std::max(0, steps.current);
  return steps;
}

// Numbers the steps anew, so that what follows has its place.
Status ProjectFile::closeGaps(Steps& steps) {
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  for (std::size_t i = 0; i < steps.sequences.size(); ++i) {
    if (steps.sequences[i] == int(i)) continue;
    HSEAM_TRY(Statement s, database_.prepare("UPDATE step SET sequence = ? WHERE sequence = ?"));
    HSEAM_DO(s.bind(1, std::int64_t(i)).bind(2, std::int64_t(steps.sequences[i])).run());
    steps.sequences[i] = int(i);
  }
  HSEAM_DO(database_.execute("UPDATE meta SET value = " + std::to_string(steps.current) + " WHERE key = 'current'"));
  return t.commit();
}

Result<ProjectFile::Opened> ProjectFile::readHistory(bool toWrite) {
  HSEAM_TRY(Steps steps, listSteps());
  if (toWrite && !steps.missing.empty()) HSEAM_DO(closeGaps(steps));
  HSEAM_TRY(scene::Scene now, steps_->read(steps.sequences[std::size_t(steps.current)]));
  HSEAM_TRY(const std::int64_t highest, highestLayerId(database_));
  now.highestId.value = std::max(now.highestId.value, std::uint64_t(highest));
  scene::History history(
      std::move(steps.heads), steps.current, std::move(now),
      [reader = steps_, sequences = std::move(steps.sequences)](int step) { return reader->read(sequences[std::size_t(step)]); });
  return Opened{nullptr, std::move(history), false, std::move(steps.missing)};
}

Status ProjectFile::keep(const scene::Step& step, const std::string& editKind, int afterStep) {
  if (!lock_) return Error{Code::unwritable, path_, "the project is open for looking only"};
  HSEAM_DO(checkStep(afterStep));
  return insertStep(afterStep + 1, step, editKind);
}

Status ProjectFile::checkStep(int step) {
  HSEAM_TRY(Statement s, database_.prepare("SELECT count(*) FROM step WHERE sequence <= ?"));
  HSEAM_TRY(const bool row, s.bind(1, std::int64_t(step)).step());
  if (!row || s.number(0) != step + 1)
    return Error{Code::conflict, path_, "step " + std::to_string(step) + " is not in the project yet"};
  return {};
}

Status ProjectFile::insertStep(int sequence, const scene::Step& step, const std::string& editKind) try {
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  TileWriter tiles(database_, tiles_, executor_);
  StepReader::Names fresh;
  std::optional<Error> failed;
  const std::string record = scene::sceneRecord(step.scene, [&](const LayerRef& l) {
    auto name = nameOfLayer(l, tiles, fresh);
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  });
  if (failed) return *failed;
  HSEAM_TRY(Statement drop, database_.prepare("DELETE FROM step WHERE sequence >= ?"));
  HSEAM_DO(drop.bind(1, std::int64_t(sequence)).run());
  HSEAM_TRY(Statement insert, database_.prepare("INSERT INTO step VALUES (?, ?, ?, ?, ?)"));
  HSEAM_DO(insert.bind(1, std::int64_t(sequence))
               .bind(2, step.label)
               .bind(3, editKind)
               .bind(4, record)
               .bind(5, step.atMs > 0 ? step.atMs : nowMs())
               .run());
  HSEAM_DO(database_.execute("UPDATE meta SET value = " + std::to_string(sequence) + " WHERE key = 'current'"));
  HSEAM_DO(setHighestLayerId(database_, step.scene.highestId));
  HSEAM_DO(t.commit());
  tiles.committed(leaveTiles_);
  if (tiles.wroteAny()) memory_->trim();
  steps_->add(fresh);
  steps_->keepOnly(step.scene);
  return {};
} catch (...) {
  return base::caught(path_);
}

Status ProjectFile::setCurrent(int step) {
  if (!lock_) return Error{Code::unwritable, path_, "the project is open for looking only"};
  HSEAM_DO(checkStep(step));
  return database_.execute("UPDATE meta SET value = " + std::to_string(step) + " WHERE key = 'current'");
}

Result<std::string> ProjectFile::nameOfLayer(const LayerRef& layer, TileWriter& tiles, StepReader::Names& fresh) {
  if (const auto known = fresh.layers.find(layer); known != fresh.layers.end()) return known->second;
  if (const auto known = steps_->nameOf(layer)) return *known;
  std::optional<Error> failed;
  const auto orEmpty = [&](Result<std::string> name) {
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  };
  const std::string record = scene::layerRecord(
      *layer, [&](const image::TiledImage& i) { return orEmpty(nameOfImage(i, tiles, fresh)); },
      [&](const LayerRef& l) { return orEmpty(nameOfLayer(l, tiles, fresh)); });
  if (failed) return *failed;
  HSEAM_TRY(const std::int64_t item, insertItem(database_, bytesOfText(record)));
  return fresh.layers[layer] = std::to_string(item);
}

Result<std::string> ProjectFile::nameOfImage(const image::TiledImage& image, TileWriter& tiles, StepReader::Names& fresh) {
  if (const auto known = fresh.images.find(image.stamp()); known != fresh.images.end()) return known->second;
  if (const auto known = steps_->nameOf(image)) return *known;
  HSEAM_TRY(const std::int64_t item, tiles.writeWithManifest(image));
  return fresh.images[image.stamp()] = std::to_string(item);
}

Result<std::string> ProjectFile::addSourceFile(const std::string& path, std::size_t partBytes) try {
  return addSource(database_, path, partBytes);
} catch (...) {
  return base::caught(path);
}

Result<std::string> ProjectFile::addSourceBytes(const std::string& fileName, std::span<const std::byte> bytes) try {
  return addSource(database_, fileName, bytes, kSourcePart);
} catch (...) {
  return base::caught(path_);
}

Result<ProjectFile::Contents> ProjectFile::contents() try {
  Contents all;
  HSEAM_TRY(const std::int64_t steps, database_.number("SELECT count(*) FROM step"));
  all.steps = int(steps);
  HSEAM_TRY(all.itemBytes, database_.number("SELECT total(length(data)) FROM item"));
  HSEAM_TRY(all.sources, sourcesOf(database_, version_));
  return all;
} catch (...) {
  return base::caught(path_);
}

std::int64_t ProjectFile::packedBytes(const image::ContentHash& tile) const {
  const auto place = tiles_->placeOf(tile);
  return place ? place->bytes : 0;
}

Result<std::vector<std::byte>> ProjectFile::sourceFile(const std::string& key) try {
  return readSource(database_, key, version_);
} catch (...) {
  return base::caught(path_);
}

Status ProjectFile::copyTo(const std::string& path) try {
  std::error_code problem;
  if (fs::equivalent(path, path_, problem) && !problem)
    return Error{Code::conflict, path, "this is the open project itself; choose another name for the copy"};
  const std::string part = partBeside(path);
  removeProject(part);
  Status copied = database_.copyTo(part);
  if (copied.ok()) {
    auto copy = Database::open(part, Database::Mode::readWrite);
    copied = copy.ok() ? copy->execute("UPDATE meta SET value = 0 WHERE key = 'open'; PRAGMA journal_mode=DELETE")
                       : Status(copy.error());
  }
  if (copied.ok()) return replaceProject(part, path);
  removeProject(part);
  return Error{copied.error().code, path, copied.error().detail};
} catch (...) {
  return base::caught(path);
}

Status ProjectFile::moveTo(const std::string& path, Old old) try {
  HSEAM_DO(copyTo(path));
  // From here on the copy is whole; it must be ours to go on with, and readable, before the old file is let go.
  HSEAM_TRY(ProjectLock lock, ProjectLock::take(path));
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::readWrite));
  HSEAM_TRY(const std::int64_t version, versionOf(database, true));
  HSEAM_DO(database.execute(kWriting));
  HSEAM_DO(bringUpToDate(database, version));
  HSEAM_DO(database.execute("UPDATE meta SET value = 1 WHERE key = 'open'"));
  const std::string before = std::exchange(path_, path);
  pool_->moveTo(path);
  std::swap(database_, database);
  if (open_) static_cast<void>(closeProject(database).ok());  // what it leaves behind is found when it is opened next
  database = {};
  if (old == Old::goes) removeProject(before);
  lock_ = std::move(lock);
  version_ = kSchemaVersion;
  open_ = true;
  return {};
} catch (...) {
  return base::caught(path);
}

Status ProjectFile::close() {
  if (!open_) return {};
  open_ = false;
  pool_->rest();
  const Status closed = closeProject(database_);
  lock_.reset();
  if (!closed.ok()) return Error{closed.error().code, path_, closed.error().detail};
  return {};
}

}  // namespace hseam::store
