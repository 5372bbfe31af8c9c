#include "core/store/project_file.h"

#include <unistd.h>

#include <charconv>
#include <chrono>
#include <filesystem>
#include <fstream>
#include <new>
#include <set>

#include "core/scene/layer_record.h"
#include "core/store/tile_codec.h"
#include "core/store/tile_writer.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using base::Result;
using base::Status;
using scene::LayerRef;

constexpr std::int64_t kApplicationId = 0x4853454d;  // "HSEM"
constexpr std::int64_t kSchemaVersion = 2;
// The log goes back into the file every 16 MiB: pages that every step touches are then written back once for many steps.
constexpr const char* kWriting = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA wal_autocheckpoint=4096";

// Layers' records, pictures' manifests and packed tiles are items, numbered as they come: a step adds neighbouring rows to the
// end of one table and touches few pages, so that keeping a stroke writes little more than its tiles.
constexpr const char* kSchema = R"(
CREATE TABLE meta   (key TEXT PRIMARY KEY, value INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE item   (id INTEGER PRIMARY KEY, data BLOB NOT NULL) STRICT;
CREATE TABLE source (name TEXT PRIMARY KEY, file TEXT NOT NULL, data BLOB NOT NULL) STRICT;
CREATE TABLE step   (sequence INTEGER PRIMARY KEY, label TEXT NOT NULL, kind TEXT NOT NULL, scene TEXT NOT NULL, at_ms INTEGER NOT NULL) STRICT;
INSERT INTO meta VALUES ('current', 0), ('open', 1);
)";

std::span<const std::byte> bytesOfText(const std::string& s) {
  return std::as_bytes(std::span(s.data(), s.size()));
}
std::string nameFor(std::span<const std::byte> bytes) {
  return hexOf(image::hashOf(bytes));
}

std::int64_t nowMs() {
  return std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch()).count();
}

Result<std::string> contentOf(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  return std::string((std::istreambuf_iterator<char>(file)), std::istreambuf_iterator<char>());
}

std::optional<std::int64_t> numberOf(const std::string& name) {
  std::int64_t number = 0;
  const auto [end, problem] = std::from_chars(name.data(), name.data() + name.size(), number);
  if (problem != std::errc() || end != name.data() + name.size()) return std::nullopt;
  return number;
}

}  // namespace

ProjectFile::ProjectFile(std::string path, Database database, Database::Mode reading,
                         const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor)
    : path_(std::move(path)),
      database_(std::move(database)),
      memory_(memory),
      executor_(executor),
      reader_(std::make_shared<TileReader>(path_, reading)) {}

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
                                               bool leaveTiles) {
  if (fs::exists(path)) return Error{Code::conflict, path, "a file of this name exists already"};
  const auto discard = [&] {
    std::error_code ignored;
    for (const char* ending : {"", "-wal", "-shm"}) fs::remove(path + ending, ignored);
  };
  auto database = Database::open(path, Database::Mode::create);
  if (!database.ok()) {
    discard();
    return database.error();
  }
  std::unique_ptr<ProjectFile> file(
      new ProjectFile(path, std::move(database).value(), Database::Mode::readOnly, memory, executor));
  file->leaveTiles_ = leaveTiles;
  scene::Step first{scene, label};
  auto made = file->makeSchema();
  if (made.ok()) made = file->insertStep(0, first, "New");
  if (!made.ok()) {
    file.reset();
    discard();
    return made.error();
  }
  return Opened{std::move(file), scene::History(std::move(first)), false};
}

Status ProjectFile::makeSchema() {
  HSEAM_DO(database_.execute("PRAGMA page_size=4096"));
  HSEAM_DO(database_.execute(kWriting));
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  HSEAM_DO(database_.execute("PRAGMA application_id=" + std::to_string(kApplicationId) +
                             "; PRAGMA user_version=" + std::to_string(kSchemaVersion)));
  HSEAM_DO(database_.execute(kSchema));
  return t.commit();
}

Result<ProjectFile::Opened> ProjectFile::open(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                              base::Executor& executor) try {
  if (!fs::exists(path)) return Error{Code::notFound, path, "there is no such project"};
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::readWrite));
  std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), Database::Mode::readOnly, memory, executor));
  file->open_ = false;  // nothing to close until the header is known to be ours
  HSEAM_DO(file->checkHeader());
  HSEAM_DO(file->database_.execute(kWriting));
  HSEAM_TRY(const std::int64_t unclean, file->database_.number("SELECT value FROM meta WHERE key = 'open'"));
  if (unclean) HSEAM_DO(file->checkAfterUncleanClose());
  HSEAM_TRY(scene::History history, file->readHistory());
  HSEAM_DO(file->database_.execute("UPDATE meta SET value = 1 WHERE key = 'open'"));
  file->open_ = true;
  return Opened{std::move(file), std::move(history), unclean != 0};
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
}

Result<ProjectFile::Opened> ProjectFile::openToRead(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                                    base::Executor& executor) try {
  if (!fs::exists(path)) return Error{Code::notFound, path, "there is no such project"};
  // A file with a write-ahead log opens read-only only where its index can be written; in a read-only folder there can be
  // no writer, so that the file by itself is all there is.
  for (const Database::Mode mode : {Database::Mode::readOnly, Database::Mode::immutable}) {
    HSEAM_TRY(Database database, Database::open(path, mode));
    std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), mode, memory, executor));
    file->open_ = false;
    if (const Status header = file->checkHeader(); !header.ok()) {
      std::error_code ignored;
      const bool logLeft = fs::exists(path + "-wal", ignored) && fs::file_size(path + "-wal", ignored) > 0;
      if (header.error().code != Code::unwritable || mode == Database::Mode::immutable) return header.error();
      if (logLeft)
        return Error{Code::unwritable, path,
                     "the project was not closed and its folder is read-only; copy it with its -wal file to another folder"};
      continue;
    }
    HSEAM_TRY(scene::History history, file->readHistory());
    return Opened{std::move(file), std::move(history), false};
  }
  return Error{Code::unreadable, path, "the project cannot be read"};
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
}

Status ProjectFile::checkHeader() {
  HSEAM_TRY(const std::int64_t id, database_.number("PRAGMA application_id"));
  if (id != kApplicationId) return Error{Code::corrupt, path_, "this is not a Hidden Seam project"};
  HSEAM_TRY(const std::int64_t version, database_.number("PRAGMA user_version"));
  if (version < kSchemaVersion)
    return Error{Code::unsupported, path_, "this project was made by a test version of Hidden Seam that kept pixels another way"};
  if (version > kSchemaVersion) return Error{Code::unsupported, path_, "this project was made by a newer version of Hidden Seam"};
  HSEAM_TRY(const std::int64_t tables, database_.number("SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN "
                                                        "('meta', 'item', 'source', 'step')"));
  if (tables != 4) return Error{Code::corrupt, path_, "the project lacks some of its tables"};
  return {};
}

Status ProjectFile::checkAfterUncleanClose() {
  HSEAM_TRY(Statement check, database_.prepare("PRAGMA integrity_check(1)"));
  HSEAM_TRY(const bool row, check.step());
  if (!row || check.text(0) != "ok")
    return Error{Code::corrupt, path_, "the project was damaged when it was last open: " + check.text(0)};
  return {};
}

Result<scene::History> ProjectFile::readHistory() {
  HSEAM_TRY(const std::int64_t current, database_.number("SELECT value FROM meta WHERE key = 'current'"));
  HSEAM_TRY(Statement s, database_.prepare("SELECT label, scene, at_ms FROM step ORDER BY sequence"));
  std::vector<scene::Step> steps;
  while (true) {
    HSEAM_TRY(const bool row, s.step());
    if (!row) break;
    auto read = scene::sceneFromRecord(s.text(1), [this](const std::string& name) { return layerNamed(name); });
    if (!read.ok()) return Error{read.error().code, path_, read.error().text()};
    steps.push_back({std::move(read).value(), s.text(0), s.number(2)});
  }
  if (current < 0 || current >= std::int64_t(steps.size())) return Error{Code::corrupt, path_, "the project has no steps"};
  layersRead_.clear();
  imagesRead_.clear();
  return scene::History(std::move(steps), int(current));
}

Status ProjectFile::keep(const scene::Step& step, const std::string& editKind, int afterStep) {
  Status kept = insertStep(afterStep + 1, step, editKind);
  if (!kept.ok()) {
    // Names given in the failed transaction are not in the file.
    layerNames_.clear();
    imageNames_.clear();
  }
  return kept;
}

Status ProjectFile::insertStep(int sequence, const scene::Step& step, const std::string& editKind) try {
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  TileWriter tiles(database_, reader_, executor_);
  std::optional<Error> failed;
  const std::string record = scene::sceneRecord(step.scene, [&](const LayerRef& l) {
    auto name = nameOfLayer(l, tiles);
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  });
  if (failed) return *failed;
  HSEAM_TRY(Statement drop, database_.prepare("DELETE FROM step WHERE sequence >= ?"));
  HSEAM_DO(drop.bind(1, sequence).run());
  HSEAM_TRY(Statement insert, database_.prepare("INSERT INTO step VALUES (?, ?, ?, ?, ?)"));
  HSEAM_DO(insert.bind(1, sequence)
               .bind(2, step.label)
               .bind(3, editKind)
               .bind(4, record)
               .bind(5, step.atMs > 0 ? step.atMs : nowMs())
               .run());
  HSEAM_DO(database_.execute("UPDATE meta SET value = " + std::to_string(sequence) + " WHERE key = 'current'"));
  HSEAM_DO(t.commit());
  tiles.committed(leaveTiles_);
  if (tiles.wroteAny()) memory_->trim();
  // Only the newest scene's layers are worth remembering.
  const auto now = scene::allLayers(step.scene);
  const std::set<LayerRef> live(now.begin(), now.end());
  std::erase_if(layerNames_, [&](const auto& entry) { return !live.contains(entry.first); });
  return {};
} catch (const std::bad_alloc&) {
  return base::noMemory(path_);
}

Status ProjectFile::setCurrent(int step) {
  return database_.execute("UPDATE meta SET value = " + std::to_string(step) + " WHERE key = 'current'");
}

Result<std::string> ProjectFile::nameOfLayer(const LayerRef& layer, TileWriter& tiles) {
  if (const auto known = layerNames_.find(layer); known != layerNames_.end()) return known->second;
  std::optional<Error> failed;
  const auto orEmpty = [&](Result<std::string> name) {
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  };
  const std::string record = scene::layerRecord(
      *layer, [&](const image::TiledImage& i) { return orEmpty(nameOfImage(i, tiles)); },
      [&](const LayerRef& l) { return orEmpty(nameOfLayer(l, tiles)); });
  if (failed) return *failed;
  HSEAM_TRY(const std::int64_t item, insertItem(database_, bytesOfText(record)));
  return layerNames_[layer] = std::to_string(item);
}

Result<std::string> ProjectFile::nameOfImage(const image::TiledImage& image, TileWriter& tiles) {
  if (const auto known = imageNames_.find(image.stamp()); known != imageNames_.end()) return known->second;
  HSEAM_DO(tiles.write(image));
  const auto manifest = packManifest(image, [&](const image::ContentHash& h) { return tiles.placeOf(h); });
  HSEAM_TRY(const std::int64_t item, insertItem(database_, manifest));
  return imageNames_[image.stamp()] = std::to_string(item);
}

Result<std::vector<std::byte>> ProjectFile::itemNamed(const std::string& name) {
  const auto number = numberOf(name);
  if (!number) return Error{Code::corrupt, path_, "a part of the project has no proper name"};
  HSEAM_TRY(Statement s, database_.prepare("SELECT data FROM item WHERE id = ?"));
  HSEAM_TRY(const bool row, s.bind(1, *number).step());
  if (!row) return Error{Code::corrupt, path_, "a layer or picture is missing from the project"};
  return s.blob(0);
}

Result<LayerRef> ProjectFile::layerNamed(const std::string& name) {
  if (const auto known = layersRead_.find(name); known != layersRead_.end()) return known->second;
  // A damaged file could lead round in circles.
  if (depth_ > kMostDepth) return Error{Code::corrupt, path_, "groups are nested too deeply"};
  ++depth_;
  const struct Leave {
    int& depth;
    ~Leave() { --depth; }
  } leave{depth_};
  HSEAM_TRY(const auto blob, itemNamed(name));
  const std::string record(reinterpret_cast<const char*>(blob.data()), blob.size());
  HSEAM_TRY(scene::Layer layer, scene::layerFromRecord(
                                    record, [this](const std::string& n) { return imageNamed(n); },
                                    [this](const std::string& n) { return layerNamed(n); }));
  auto ref = std::make_shared<const scene::Layer>(std::move(layer));
  layersRead_[name] = ref;
  layerNames_[ref] = name;
  return ref;
}

Result<image::TiledImage> ProjectFile::imageNamed(const std::string& name) {
  if (const auto known = imagesRead_.find(name); known != imagesRead_.end()) return known->second;
  HSEAM_TRY(const auto blob, itemNamed(name));
  HSEAM_TRY(image::TiledImage image, unpackManifest(blob, memory_, reader_));
  imagesRead_[name] = image;
  imageNames_[image.stamp()] = name;
  return image;
}

Result<std::string> ProjectFile::addSourceFile(const std::string& path) try {
  HSEAM_TRY(const std::string bytes, contentOf(path));
  return addSourceBytes(fs::path(path).filename().string(), bytesOfText(bytes));
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
}

Result<std::string> ProjectFile::addSourceBytes(const std::string& fileName, std::span<const std::byte> bytes) try {
  const std::string name = nameFor(bytes);
  HSEAM_TRY(Statement s, database_.prepare("INSERT OR IGNORE INTO source VALUES (?, ?, ?)"));
  HSEAM_DO(s.bind(1, name).bind(2, fileName).bind(3, bytes).run());
  return name;
} catch (const std::bad_alloc&) {
  return base::noMemory(path_);
}

Result<ProjectFile::Contents> ProjectFile::contents() try {
  Contents all;
  HSEAM_TRY(const std::int64_t steps, database_.number("SELECT count(*) FROM step"));
  all.steps = int(steps);
  HSEAM_TRY(all.itemBytes, database_.number("SELECT total(length(data)) FROM item"));
  HSEAM_TRY(Statement sources, database_.prepare("SELECT name, file, length(data) FROM source ORDER BY file"));
  while (true) {
    HSEAM_TRY(const bool row, sources.step());
    if (!row) break;
    all.sources.push_back({sources.text(0), sources.text(1), sources.number(2)});
  }
  return all;
} catch (const std::bad_alloc&) {
  return base::noMemory(path_);
}

std::int64_t ProjectFile::packedBytes(const image::ContentHash& tile) const {
  const auto place = reader_->placeOf(tile);
  return place ? place->bytes : 0;
}

Result<std::string> sourceKeyOf(const std::string& path) try {
  HSEAM_TRY(const std::string bytes, contentOf(path));
  return nameFor(bytesOfText(bytes));
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
}

Result<std::vector<std::byte>> ProjectFile::sourceFile(const std::string& key) try {
  HSEAM_TRY(Statement s, database_.prepare("SELECT data FROM source WHERE name = ?"));
  HSEAM_TRY(const bool row, s.bind(1, key).step());
  if (!row) return Error{Code::corrupt, path_, "a source file is missing from the project"};
  return s.blob(0);
} catch (const std::bad_alloc&) {
  return base::noMemory(path_);
}

Status ProjectFile::copyTo(const std::string& path) {
  const std::string part = path + "." + std::to_string(getpid()) + ".part";
  const auto discard = [&] {
    std::error_code ignored;
    for (const char* ending : {"", "-journal", "-wal", "-shm"}) fs::remove(part + ending, ignored);
  };
  discard();
  Status copied = database_.copyTo(part);
  if (copied.ok()) {
    auto copy = Database::open(part, Database::Mode::readWrite);
    copied = copy.ok() ? copy->execute("UPDATE meta SET value = 0 WHERE key = 'open'; PRAGMA journal_mode=DELETE")
                       : Status(copy.error());
  }
  if (!copied.ok()) {
    discard();
    return Error{copied.error().code, path, copied.error().detail};
  }
  std::error_code problem;
  fs::rename(part, path, problem);
  if (!problem) return {};
  discard();
  return Error{Code::unwritable, path, "cannot be written: " + problem.message()};
}

Status ProjectFile::close() {
  if (!open_) return {};
  open_ = false;
  reader_->rest();
  HSEAM_DO(database_.execute("UPDATE meta SET value = 0 WHERE key = 'open'"));
  HSEAM_TRY(const std::int64_t busy, database_.number("PRAGMA wal_checkpoint(TRUNCATE)"));
  if (busy) return Error{Code::conflict, path_, "another program reads this project; its log stays beside it for now"};
  // A closed project is one plain file, that can be looked at without leaving anything beside it.
  return database_.execute("PRAGMA journal_mode=DELETE");
}

}  // namespace hseam::store
