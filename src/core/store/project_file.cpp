#include "core/store/project_file.h"

#include <unistd.h>

#include <chrono>
#include <filesystem>
#include <fstream>
#include <set>

#include "core/scene/layer_record.h"
#include "core/store/tile_codec.h"
#include "core/store/tile_reader.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using base::Result;
using base::Status;
using scene::LayerRef;

constexpr std::int64_t kApplicationId = 0x4853454d;  // "HSEM"
constexpr std::int64_t kSchemaVersion = 1;

// Layers, pictures and tiles are named by the hash of what they hold: what did not change is never written twice.
constexpr const char* kSchema = R"(
CREATE TABLE meta   (key TEXT PRIMARY KEY, value INTEGER NOT NULL) STRICT;
CREATE TABLE tile   (hash TEXT PRIMARY KEY, data BLOB NOT NULL) STRICT;
CREATE TABLE image  (name TEXT PRIMARY KEY, data BLOB NOT NULL) STRICT;
CREATE TABLE layer  (name TEXT PRIMARY KEY, data BLOB NOT NULL) STRICT;
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

Status insertNamed(Database& database, const char* table, const std::string& name, std::span<const std::byte> data) {
  HSEAM_TRY(Statement s, database.prepare(std::string("INSERT OR IGNORE INTO ") + table + " (" +
                                          (table == std::string("tile") ? "hash" : "name") + ", data) VALUES (?, ?)"));
  return s.bind(1, name).bind(2, data).run();
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
  if (fs::exists(path)) return Error{Code::conflict, path, "a file of this name exists already"};
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::create));
  std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), Database::Mode::readOnly, memory, executor));
  scene::Step first{scene, label};
  auto made = file->makeSchema();
  if (made.ok()) made = file->insertStep(0, first, "New");
  if (!made.ok()) {
    file.reset();
    std::error_code ignored;
    for (const char* ending : {"", "-wal", "-shm"}) fs::remove(path + ending, ignored);
    return made.error();
  }
  return Opened{std::move(file), scene::History(std::move(first)), false};
}

Status ProjectFile::makeSchema() {
  HSEAM_DO(database_.execute("PRAGMA page_size=16384; PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON"));
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  HSEAM_DO(database_.execute("PRAGMA application_id=" + std::to_string(kApplicationId) +
                             "; PRAGMA user_version=" + std::to_string(kSchemaVersion)));
  HSEAM_DO(database_.execute(kSchema));
  return t.commit();
}

Result<ProjectFile::Opened> ProjectFile::open(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                              base::Executor& executor) {
  if (!fs::exists(path)) return Error{Code::notFound, path, "there is no such project"};
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::readWrite));
  std::unique_ptr<ProjectFile> file(new ProjectFile(path, std::move(database), Database::Mode::readOnly, memory, executor));
  file->open_ = false;  // nothing to close until the header is known to be ours
  HSEAM_DO(file->checkHeader());
  HSEAM_DO(file->database_.execute("PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON"));
  HSEAM_TRY(const std::int64_t unclean, file->database_.number("SELECT value FROM meta WHERE key = 'open'"));
  if (unclean) HSEAM_DO(file->checkAfterUncleanClose());
  HSEAM_TRY(scene::History history, file->readHistory());
  HSEAM_DO(file->database_.execute("UPDATE meta SET value = 1 WHERE key = 'open'"));
  file->open_ = true;
  return Opened{std::move(file), std::move(history), unclean != 0};
}

Result<ProjectFile::Opened> ProjectFile::openToRead(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                                    base::Executor& executor) {
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
}

Status ProjectFile::checkHeader() {
  HSEAM_TRY(const std::int64_t id, database_.number("PRAGMA application_id"));
  if (id != kApplicationId) return Error{Code::corrupt, path_, "this is not a Hidden Seam project"};
  HSEAM_TRY(const std::int64_t version, database_.number("PRAGMA user_version"));
  if (version > kSchemaVersion) return Error{Code::unsupported, path_, "this project was made by a newer version of Hidden Seam"};
  HSEAM_TRY(const std::int64_t tables, database_.number("SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN "
                                                        "('meta', 'tile', 'image', 'layer', 'source', 'step')"));
  if (tables != 6) return Error{Code::corrupt, path_, "the project lacks some of its tables"};
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
  HSEAM_TRY(Statement s, database_.prepare("SELECT label, scene FROM step ORDER BY sequence"));
  std::vector<scene::Step> steps;
  while (true) {
    HSEAM_TRY(const bool row, s.step());
    if (!row) break;
    auto read = scene::sceneFromRecord(s.text(1), [this](const std::string& name) { return layerNamed(name); });
    if (!read.ok()) return Error{read.error().code, path_, read.error().text()};
    steps.push_back({std::move(read).value(), s.text(0)});
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

Status ProjectFile::insertStep(int sequence, const scene::Step& step, const std::string& editKind) {
  writtenTiles_.clear();
  HSEAM_TRY(Transaction t, Transaction::begin(database_));
  std::optional<Error> failed;
  const std::string record = scene::sceneRecord(step.scene, [&](const LayerRef& l) {
    auto name = nameOfLayer(l);
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  });
  if (failed) return *failed;
  HSEAM_TRY(Statement drop, database_.prepare("DELETE FROM step WHERE sequence >= ?"));
  HSEAM_DO(drop.bind(1, sequence).run());
  HSEAM_TRY(Statement insert, database_.prepare("INSERT INTO step VALUES (?, ?, ?, ?, ?)"));
  HSEAM_DO(insert.bind(1, sequence).bind(2, step.label).bind(3, editKind).bind(4, record).bind(5, nowMs()).run());
  HSEAM_DO(database_.execute("UPDATE meta SET value = " + std::to_string(sequence) + " WHERE key = 'current'"));
  HSEAM_DO(t.commit());
  for (const image::TileRef& tile : writtenTiles_) tile->setBacking(reader_);
  if (!writtenTiles_.empty()) memory_->trim();
  writtenTiles_.clear();
  // Only the newest scene's layers are worth remembering.
  const auto now = scene::allLayers(step.scene);
  const std::set<LayerRef> live(now.begin(), now.end());
  std::erase_if(layerNames_, [&](const auto& entry) { return !live.contains(entry.first); });
  return {};
}

Status ProjectFile::setCurrent(int step) {
  return database_.execute("UPDATE meta SET value = " + std::to_string(step) + " WHERE key = 'current'");
}

Result<std::string> ProjectFile::nameOfLayer(const LayerRef& layer) {
  if (const auto known = layerNames_.find(layer); known != layerNames_.end()) return known->second;
  std::optional<Error> failed;
  const auto orEmpty = [&](Result<std::string> name) {
    if (!name.ok() && !failed) failed = name.error();
    return name.ok() ? *name : std::string();
  };
  const std::string record = scene::layerRecord(
      *layer, [&](const image::TiledImage& i) { return orEmpty(nameOfImage(i)); },
      [&](const LayerRef& l) { return orEmpty(nameOfLayer(l)); });
  if (failed) return *failed;
  const std::string name = nameFor(bytesOfText(record));
  HSEAM_DO(insertNamed(database_, "layer", name, bytesOfText(record)));
  layerNames_[layer] = name;
  return name;
}

Result<std::string> ProjectFile::nameOfImage(const image::TiledImage& image) {
  if (const auto known = imageNames_.find(image.stamp()); known != imageNames_.end()) return known->second;
  HSEAM_DO(writeTiles(image));
  const std::vector<std::byte> manifest = packManifest(image);
  const std::string name = nameFor(manifest);
  HSEAM_DO(insertNamed(database_, "image", name, manifest));
  imageNames_[image.stamp()] = name;
  return name;
}

Status ProjectFile::writeTiles(const image::TiledImage& image) {
  std::set<image::TileRef> missing;
  for (int n = 0; n < image.levelCount(); ++n) {
    const auto& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) {
        const image::TileRef& t = level.tile(column, row);
        if (!t->uniform() && t->backing() != reader_) missing.insert(t);
      }
    }
  }
  if (missing.empty()) return {};
  const std::vector<image::TileRef> tiles(missing.begin(), missing.end());
  HSEAM_TRY(Statement insert, database_.prepare("INSERT OR IGNORE INTO tile VALUES (?, ?)"));
  // In batches, so that packed bytes never pile up.
  constexpr std::size_t kBatch = 64;
  for (std::size_t from = 0; from < tiles.size(); from += kBatch) {
    const std::size_t count = std::min(kBatch, tiles.size() - from);
    std::vector<std::vector<std::byte>> packed(count);
    std::vector<std::optional<Error>> errors(count);
    executor_.forEach(int(count), [&](int i) {
      const image::TileRef& t = tiles[from + std::size_t(i)];
      auto p = image::pin(t);
      if (!p.ok()) {
        errors[std::size_t(i)] = p.error();
        return;
      }
      const std::size_t step = image::bytesOf(t->format());
      packed[std::size_t(i)] = packTile({p->data(), image::kTilePixels * step}, step);
      static_cast<void>(t->hash());
    });
    for (std::size_t i = 0; i < count; ++i) {
      if (errors[i]) return *errors[i];
      const std::string key = hexOf(tiles[from + i]->hash());
      HSEAM_DO(insert.bind(1, key).bind(2, packed[i]).run());
      writtenTiles_.push_back(tiles[from + i]);
    }
  }
  return {};
}

Result<std::vector<std::byte>> ProjectFile::blobNamed(const char* table, const std::string& name) {
  HSEAM_TRY(Statement s, database_.prepare(std::string("SELECT data FROM ") + table + " WHERE name = ?"));
  HSEAM_TRY(const bool row, s.bind(1, name).step());
  if (!row) return Error{Code::corrupt, path_, std::string("a ") + table + " is missing from the project"};
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
  HSEAM_TRY(const auto blob, blobNamed("layer", name));
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
  HSEAM_TRY(const auto blob, blobNamed("image", name));
  HSEAM_TRY(image::TiledImage image, unpackManifest(blob, memory_, reader_));
  imagesRead_[name] = image;
  imageNames_[image.stamp()] = name;
  return image;
}

Result<std::string> ProjectFile::addSourceFile(const std::string& path) {
  HSEAM_TRY(const std::string bytes, contentOf(path));
  return addSourceBytes(fs::path(path).filename().string(), bytesOfText(bytes));
}

Result<std::string> ProjectFile::addSourceBytes(const std::string& fileName, std::span<const std::byte> bytes) {
  const std::string name = nameFor(bytes);
  HSEAM_TRY(Statement s, database_.prepare("INSERT OR IGNORE INTO source VALUES (?, ?, ?)"));
  HSEAM_DO(s.bind(1, name).bind(2, fileName).bind(3, bytes).run());
  return name;
}

Result<ProjectFile::Contents> ProjectFile::contents() {
  Contents all;
  HSEAM_TRY(const std::int64_t steps, database_.number("SELECT count(*) FROM step"));
  all.steps = int(steps);
  HSEAM_TRY(Statement tiles, database_.prepare("SELECT hash, length(data) FROM tile"));
  while (true) {
    HSEAM_TRY(const bool row, tiles.step());
    if (!row) break;
    all.tiles[tiles.text(0)] = tiles.number(1);
  }
  HSEAM_TRY(Statement sources, database_.prepare("SELECT name, file, length(data) FROM source ORDER BY file"));
  while (true) {
    HSEAM_TRY(const bool row, sources.step());
    if (!row) break;
    all.sources.push_back({sources.text(0), sources.text(1), sources.number(2)});
  }
  return all;
}

Result<std::string> sourceKeyOf(const std::string& path) {
  HSEAM_TRY(const std::string bytes, contentOf(path));
  return nameFor(bytesOfText(bytes));
}

Result<std::vector<std::byte>> ProjectFile::sourceFile(const std::string& key) {
  return blobNamed("source", key);
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
  return database_.execute("PRAGMA wal_checkpoint(TRUNCATE)");
}

}  // namespace hseam::store
