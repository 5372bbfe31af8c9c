#include "core/store/slim.h"

#include <unistd.h>
#include <zip.h>

#include <filesystem>
#include <nlohmann/json.hpp>
#include <set>
#include <vector>

#include "core/store/tile_codec.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using base::Result;
using base::Status;

void collect(const image::TiledImage& image, std::set<std::string>& tiles) {
  if (image.isNull()) return;
  for (int n = 0; n < image.levelCount(); ++n) {
    const auto& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) {
        const image::TileRef& t = level.tile(column, row);
        if (!t->uniform()) tiles.insert(hexOf(t->hash()));
      }
    }
  }
}

// The tiles and the sources that a scene stands on.
struct Used {
  std::set<std::string> tiles, sources;
};
Used usedBy(const scene::Scene& s) {
  Used used;
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    collect(l->mask.coverage, used.tiles);
    const auto* p = l->picture();
    if (!p) continue;
    if (!p->sourceHash.empty()) used.sources.insert(p->sourceHash);
    const scene::Cutout& c = p->cutout;
    for (const image::TiledImage* i : {&p->source, &c.selection, &c.hints, &c.band, &c.alpha, &c.clean}) collect(*i, used.tiles);
  }
  return used;
}

void stringsIn(const nlohmann::json& j, std::set<std::string>& out) {
  if (j.is_string()) out.insert(j.get<std::string>());
  for (const auto& inner : j) {
    if (j.is_structured()) stringsIn(inner, out);
  }
}

// The layers and pictures that a scene's record leads to: records name each other by plain strings.
Result<std::set<std::string>> reachableFrom(Database& database, const std::string& sceneRecord) {
  std::set<std::string> known, found;
  for (const char* table : {"layer", "image"}) {
    HSEAM_TRY(Statement names, database.prepare(std::string("SELECT name FROM ") + table));
    while (true) {
      HSEAM_TRY(const bool row, names.step());
      if (!row) break;
      known.insert(names.text(0));
    }
  }
  std::vector<std::string> records{sceneRecord};
  HSEAM_TRY(Statement layer, database.prepare("SELECT data FROM layer WHERE name = ?"));
  while (!records.empty()) {
    const nlohmann::json record = nlohmann::json::parse(records.back(), nullptr, false);
    records.pop_back();
    std::set<std::string> strings;
    stringsIn(record, strings);
    for (const std::string& name : strings) {
      if (!known.count(name) || !found.insert(name).second) continue;
      HSEAM_TRY(const bool isLayer, layer.bind(1, name).step());
      if (isLayer) {
        const auto bytes = layer.blob(0);
        records.emplace_back(reinterpret_cast<const char*>(bytes.data()), bytes.size());
      }
      layer.reset();
    }
  }
  return found;
}

// Deletes the rows of a table whose key is not in `keep`.
Status keepOnly(Database& database, const std::string& table, const std::string& key, const std::set<std::string>& keep) {
  HSEAM_DO(database.execute("CREATE TEMP TABLE keep (key TEXT PRIMARY KEY)"));
  HSEAM_TRY(Statement insert, database.prepare("INSERT INTO keep VALUES (?)"));
  for (const std::string& k : keep) HSEAM_DO(insert.bind(1, k).run());
  HSEAM_DO(database.execute("DELETE FROM " + table + " WHERE " + key + " NOT IN (SELECT key FROM keep)"));
  return database.execute("DROP TABLE keep");
}

// Turns a copy of a project into one of its current step alone.
Status cutDown(const std::string& path, const Used& used) {
  HSEAM_TRY(Database database, Database::open(path, Database::Mode::readWrite));
  std::string record;
  {
    HSEAM_TRY(Transaction t, Transaction::begin(database));
    HSEAM_DO(database.execute("DELETE FROM step WHERE sequence <> (SELECT value FROM meta WHERE key = 'current')"));
    HSEAM_DO(database.execute("UPDATE step SET sequence = 0, kind = 'New'; UPDATE meta SET value = 0 WHERE key = 'current'"));
    {
      HSEAM_TRY(Statement scene, database.prepare("SELECT scene FROM step"));
      HSEAM_TRY(const bool row, scene.step());
      if (!row) return Error{Code::corrupt, path, "the project has no current step"};
      record = scene.text(0);
    }
    HSEAM_TRY(const auto names, reachableFrom(database, record));
    HSEAM_DO(keepOnly(database, "layer", "name", names));
    HSEAM_DO(keepOnly(database, "image", "name", names));
    HSEAM_DO(keepOnly(database, "tile", "hash", used.tiles));
    HSEAM_DO(keepOnly(database, "source", "name", used.sources));
    HSEAM_DO(t.commit());
  }
  return database.execute("VACUUM");
}

Status moved(const std::string& part, const std::string& path) {
  std::error_code problem;
  fs::rename(part, path, problem);
  if (!problem) return {};
  std::error_code ignored;
  fs::remove(part, ignored);
  return Error{Code::unwritable, path, "cannot be written: " + problem.message()};
}

void discard(const std::string& part) {
  std::error_code ignored;
  for (const char* ending : {"", "-wal", "-shm", "-journal"}) fs::remove(part + ending, ignored);
}

std::string beside(const std::string& path) {
  return path + "." + std::to_string(getpid()) + ".part";
}

}  // namespace

Result<SlimReport> slimReport(ProjectFile& file, const scene::Scene& current) {
  const Used used = usedBy(current);
  HSEAM_TRY(const ProjectFile::Contents all, file.contents());
  SlimReport report;
  report.steps = std::max(0, all.steps - 1);
  for (const auto& [hash, bytes] : all.tiles) {
    report.bytesNow += bytes;
    if (used.tiles.count(hash)) report.bytesThen += bytes;
  }
  for (const auto& s : all.sources) {
    report.bytesNow += s.bytes;
    if (used.sources.count(s.key)) {
      report.bytesThen += s.bytes;
    } else {
      report.sources.push_back(s.file);
    }
  }
  return report;
}

Status slimTo(ProjectFile& file, const scene::Scene& current, const std::string& path) {
  // A copy is cut down: the open project's tiles must go on being read from where they are.
  const std::string part = beside(path);
  HSEAM_DO(file.copyTo(part));
  auto done = cutDown(part, usedBy(current));
  if (!done.ok()) {
    discard(part);
    return Error{done.error().code, path, done.error().detail};
  }
  return moved(part, path);
}

Status archiveTo(ProjectFile& file, const std::string& path, const base::Progress& progress) {
  const std::string part = beside(path), copy = part + ".hseam";
  discard(part);
  const auto fill = [&]() -> Status {
    HSEAM_DO(file.copyTo(copy));
    progress.report(0.4);
    if (progress.cancelled()) return base::cancelledError();
    int problem = 0;
    zip_t* zip = zip_open(part.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &problem);
    if (!zip) return Error{Code::unwritable, path, "cannot be written (is its folder read-only or gone?)"};
    std::unique_ptr<zip_t, void (*)(zip_t*)> closing(zip, zip_discard);
    const auto add = [&](const std::string& name, zip_source_t* source) -> Status {
      const zip_int64_t at = source ? zip_file_add(zip, name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
      if (at < 0) return Error{Code::unwritable, path, name + " cannot be added to the archive"};
      // Pixels and pictures are packed already.
      zip_set_file_compression(zip, zip_uint64_t(at), ZIP_CM_STORE, 0);
      return {};
    };
    const std::string project = fs::path(file.path()).filename().string();
    HSEAM_DO(add(project, zip_source_file(zip, copy.c_str(), 0, -1)));
    HSEAM_TRY(const ProjectFile::Contents all, file.contents());
    std::vector<std::vector<std::byte>> held;  // must live until the archive is closed
    nlohmann::json list = {{"project", project}, {"sources", nlohmann::json::array()}};
    std::set<std::string> names;
    for (const auto& s : all.sources) {
      std::string name = "sources/" + s.file;
      for (int n = 2; !names.insert(name).second; ++n)
        name = "sources/" + fs::path(s.file).stem().string() + "-" + std::to_string(n) + fs::path(s.file).extension().string();
      HSEAM_TRY(auto bytes, file.sourceFile(s.key));
      held.push_back(std::move(bytes));
      HSEAM_DO(add(name, zip_source_buffer(zip, held.back().data(), held.back().size(), 0)));
      list["sources"].push_back({{"file", name}, {"key", s.key}});
    }
    const std::string text = list.dump(2);
    HSEAM_DO(add("contents.json", zip_source_buffer(zip, text.data(), text.size(), 0)));
    if (zip_close(zip) != 0)
      return Error{Code::unwritable, path, std::string("writing stopped (is the disk full?): ") + zip_strerror(zip)};
    static_cast<void>(closing.release());  // closed: there is nothing to discard
    return {};
  };
  const auto done = fill();
  discard(copy);
  if (!done.ok()) {
    discard(part);
    return Error{done.error().code, path, done.error().detail};
  }
  progress.report(1);
  return moved(part, path);
}

}  // namespace hseam::store
