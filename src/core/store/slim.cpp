#include "core/store/slim.h"

#include <zip.h>

#include <filesystem>
#include <nlohmann/json.hpp>
#include <set>
#include <vector>

#include "core/base/json_text.h"
#include "core/scene/content/kind.h"
#include "core/store/names.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;

void collect(const image::TiledImage& image, std::set<image::ContentHash>& tiles) {
  if (image.isNull()) return;
  for (int n = 0; n < image.levelCount(); ++n) {
    const auto& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) {
        const image::TileRef& t = level.tile(column, row);
        if (!t->uniform()) tiles.insert(t->hash());
      }
    }
  }
}

// The tiles and the sources that a scene stands on.
struct Used {
  std::set<image::ContentHash> tiles;
  std::set<std::string> sources;
};
Used usedBy(const scene::Scene& s) {
  Used used;
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    scene::forEachImage(*l, [&](const image::TiledImage& i) { collect(i, used.tiles); });
    if (const auto* p = l->picture(); p && !p->sourceHash.empty()) used.sources.insert(p->sourceHash);
  }
  return used;
}

bool isItself(const ProjectFile& file, const std::string& path) {
  std::error_code problem;
  return fs::equivalent(path, file.path(), problem) && !problem;
}

Status moved(const std::string& part, const std::string& path) {
  std::error_code problem;
  fs::rename(part, path, problem);
  if (!problem) return {};
  std::error_code ignored;
  fs::remove(part, ignored);
  return Error{Code::unwritable, path, "cannot be written: " + problem.message()};
}

}  // namespace

Result<SlimReport> slimReport(ProjectFile& file, const scene::Scene& current) try {
  const Used used = usedBy(current);
  HSEAM_TRY(const ProjectFile::Contents all, file.contents());
  SlimReport report;
  report.steps = std::max(0, all.steps - 1);
  report.bytesNow = all.itemBytes;
  for (const auto& tile : used.tiles) report.bytesThen += file.packedBytes(tile);
  for (const auto& s : all.sources) {
    report.bytesNow += s.bytes;
    if (used.sources.count(s.key)) {
      report.bytesThen += s.bytes;
    } else {
      report.sources.push_back(s.file);
    }
  }
  return report;
} catch (...) {
  return base::caught(file.path());
}

Status slimTo(ProjectFile& file, const scene::Scene& current, const std::string& path) try {
  if (isItself(file, path))
    return Error{Code::conflict, path, "this is the open project itself; choose another name for the copy"};
  const std::string part = partBeside(path);
  removeProject(part);
  const auto fill = [&]() -> Status {
    HSEAM_TRY(const auto copy, file.createFromThis(part, current, "Slimmed"));
    const auto used = usedBy(current).sources;
    HSEAM_TRY(const ProjectFile::Contents all, file.contents());
    for (const auto& s : all.sources) {
      if (!used.contains(s.key)) continue;
      HSEAM_TRY(const auto bytes, file.sourceFile(s.key));
      HSEAM_DO(copy.file->addSourceBytes(s.file, bytes));
    }
    return copy.file->close();
  };
  if (const auto done = fill(); !done.ok()) {
    removeProject(part);
    return Error{done.error().code, path, done.error().detail};
  }
  return replaceProject(part, path);
} catch (...) {
  removeProject(partBeside(path));
  return base::caught(path);
}

Status archiveTo(ProjectFile& file, const std::string& path, const base::Progress& progress) try {
  if (isItself(file, path))
    return Error{Code::conflict, path, "this is the open project itself; choose another name for the archive"};
  const std::string part = partBeside(path), copy = part + ".hseam";
  removeProject(part);
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
    const std::string text = base::jsonText(list, 2);
    HSEAM_DO(add("contents.json", zip_source_buffer(zip, text.data(), text.size(), 0)));
    if (zip_close(zip) != 0)
      return Error{Code::unwritable, path, std::string("writing stopped (is the disk full?): ") + zip_strerror(zip)};
    static_cast<void>(closing.release());  // closed: there is nothing to discard
    return {};
  };
  const auto done = fill();
  removeProject(copy);
  if (!done.ok()) {
    removeProject(part);
    return Error{done.error().code, path, done.error().detail};
  }
  progress.report(1);
  return moved(part, path);
} catch (...) {
  removeProject(partBeside(path));
  removeProject(partBeside(path) + ".hseam");
  return base::caught(path);
}

}  // namespace hseam::store
