#include "core/store/open_raster.h"

#include <unistd.h>
#include <zip.h>

#include <cstring>
#include <filesystem>
#include <map>
#include <new>
#include <pugixml.hpp>
#include <set>

#include "core/base/temporary_folder.h"
#include "core/base/text.h"
#include "core/image/picture_file.h"
#include "core/store/names.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using scene::BlendMode;
using scene::Layer;
using scene::LayerRef;

constexpr std::int64_t kMostXml = 16 << 20, kMostEntry = std::int64_t(1) << 31, kMostLayers = 4096, kMostDepth = 64;
constexpr int kThumbnailSide = 256;

// The format's names of the modes it has.
const std::map<std::string, BlendMode>& modesByName() {
  static const std::map<std::string, BlendMode> all = [] {
    std::map<std::string, BlendMode> m{{"svg:src-over", BlendMode::normal}};
    for (int i = 1; i <= int(BlendMode::luminosity); ++i)
      m[std::string("svg:") + scene::blendModeName(BlendMode(i))] = BlendMode(i);
    // The baseline has no hue: it is named as the others are, which readers take.
    return m;
  }();
  return all;
}

struct ZipClose {
  void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, ZipClose>;

// ------------------------------------------------------------------ writing

class Writer {
 public:
  Writer(const scene::Scene& scene, const FlatLayerSource& flat, const base::Progress& progress)
      : scene_(scene), flat_(flat), progress_(progress), total_(scene::allLayers(scene).size() + 1) {}

  Result<std::vector<std::string>> write(const std::string& path) {
    if (!bench_.ok()) return Error{Code::unwritable, path, "there is no room for temporary files"};
    const fs::path target(path);
    const std::string part =
        (target.parent_path() / ("." + target.filename().string() + "." + std::to_string(getpid()))).string();
    auto done = fill(part);
    if (done.ok()) {
      std::error_code problem;
      fs::rename(part, target, problem);
      if (problem) done = Error{Code::unwritable, path, "cannot be written: " + problem.message()};
    }
    if (!done.ok()) {
      std::error_code ignored;
      fs::remove(part, ignored);
      return Error{done.error().code, path, done.error().detail};
    }
    return std::vector<std::string>(warnings_.begin(), warnings_.end());
  }

 private:
  Status fill(const std::string& part) {
    int problem = 0;
    zip_.reset(zip_open(part.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &problem));
    if (!zip_) return Error{Code::unwritable, part, "cannot be written (is its folder read-only or gone?)"};
    // The type comes first and uncompressed, so that the file can be told by its beginning.
    static const std::string kType = "image/openraster";
    HSEAM_DO(addText("mimetype", kType, false));
    pugi::xml_document xml;
    pugi::xml_node image = xml.append_child("image");
    image.append_attribute("version") = "0.0.5";
    image.append_attribute("w") = scene_.canvas.width;
    image.append_attribute("h") = scene_.canvas.height;
    pugi::xml_node stack = image.append_child("stack");
    HSEAM_DO(addLayers(scene_.layers, stack));
    HSEAM_TRY(const FlatLayer merged, flat_(nullptr));
    HSEAM_DO(addPicture("mergedimage.png", merged.pixels));
    HSEAM_DO(addThumbnail(merged.pixels));
    struct Text : pugi::xml_writer {
      std::string text;
      void write(const void* data, size_t size) override { text.append(static_cast<const char*>(data), size); }
    } text;
    xml.save(text, " ", pugi::format_default, pugi::encoding_utf8);
    HSEAM_DO(addText("stack.xml", text.text, true));
    if (zip_close(zip_.get()) != 0)
      return Error{Code::unwritable, part, std::string("writing stopped (is the disk full?): ") + zip_strerror(zip_.get())};
    static_cast<void>(zip_.release());
    return {};
  }

  Status addText(const std::string& name, const std::string& text, bool compressed) {
    texts_.push_back(std::make_unique<std::string>(text));  // must live until the archive is closed
    zip_source_t* source = zip_source_buffer(zip_.get(), texts_.back()->data(), texts_.back()->size(), 0);
    return add(name, source, compressed);
  }
  Status add(const std::string& name, zip_source_t* source, bool compressed) {
    const zip_int64_t index = source ? zip_file_add(zip_.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
    if (index < 0) return Error{Code::unwritable, name, "cannot be added to the archive"};
    zip_set_file_compression(zip_.get(), zip_uint64_t(index), compressed ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0);
    return {};
  }
  Status addPicture(const std::string& name, const image::TiledImage& pixels) {
    const std::string file = bench_.at(std::to_string(files_++) + ".png");
    HSEAM_DO(image::writeTiled(file, pixels));
    return add(name, zip_source_file(zip_.get(), file.c_str(), 0, -1), false);
  }
  Status addThumbnail(const image::TiledImage& merged) {
    int level = 0;
    while (level + 1 < merged.levelCount() &&
           std::max(merged.level(level).size.width, merged.level(level).size.height) > kThumbnailSide)
      ++level;
    HSEAM_TRY(const auto pixels, image::read8(merged, level, base::Rect::of(merged.level(level).size)));
    base::InlineExecutor here;
    HSEAM_TRY(const auto small, image::tiledFromRaster(pixels, merged.format(), merged.memory(), here));
    return addPicture("Thumbnails/thumbnail.png", small);
  }

  // The format lists the front layer first.
  Status addLayers(const std::vector<LayerRef>& layers, pugi::xml_node stack) {
    for (std::size_t i = layers.size(); i-- > 0;) {
      if (progress_.cancelled()) return base::cancelledError();
      const Layer& l = *layers[i];
      progress_.report(0.9 * double(done_++) / double(total_));
      if (l.adjustment()) {
        warn(l, "is an adjustment, which OpenRaster does not hold: it shows in the merged picture only");
        continue;
      }
      if (l.clip) warn(l, "is confined to the layer below, which OpenRaster does not hold: it stands free");
      pugi::xml_node node = stack.append_child(l.group() ? "stack" : "layer");
      node.append_attribute("name") = l.name.c_str();
      node.append_attribute("opacity") = l.opacity;
      node.append_attribute("visibility") = l.hidden ? "hidden" : "visible";
      node.append_attribute("composite-op") = nameOf(l).c_str();
      if (const auto* g = l.group()) {
        node.append_attribute("isolation") = g->isolated ? "isolate" : "auto";
        if (l.mask.acts() || l.mask.actsByNumbers())
          warn(l, "is a group with a mask, which OpenRaster does not hold: all of it shows");
        HSEAM_DO(addLayers(g->layers, node));
        continue;
      }
      if (l.mask.acts() || l.mask.actsByNumbers()) warn(l, "has its mask baked into its transparency");
      HSEAM_TRY(const FlatLayer flat, flat_(&l));
      const std::string source = "data/layer" + std::to_string(files_) + ".png";
      node.append_attribute("src") = source.c_str();
      node.append_attribute("x") = flat.x;
      node.append_attribute("y") = flat.y;
      HSEAM_DO(addPicture(source, flat.pixels));
    }
    return {};
  }

  std::string nameOf(const Layer& l) {
    for (const auto& [name, mode] : modesByName()) {
      if (mode == l.mode) return name;
    }
    warn(l, (std::string("is laid down by ") + scene::blendModeName(l.mode) + ", which OpenRaster does not name: normal instead")
                .c_str());
    return "svg:src-over";
  }
  void warn(const Layer& l, const char* what) { warnings_.insert("\"" + l.name + "\" " + what); }

  const scene::Scene& scene_;
  const FlatLayerSource& flat_;
  const base::Progress& progress_;
  std::size_t total_, done_ = 0;
  base::TemporaryFolder bench_{"layers"};
  std::vector<std::unique_ptr<std::string>> texts_;
  Zip zip_;
  int files_ = 0;
  std::set<std::string> warnings_;
};

// ------------------------------------------------------------------ reading

class Unpacker {
 public:
  Unpacker(const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor, const base::Progress& progress)
      : memory_(memory), executor_(executor), progress_(progress) {}

  Result<OpenRasterRead> read(const std::string& path) {
    path_ = path;
    std::error_code problem;
    if (!fs::exists(path, problem)) return Error{Code::notFound, path, "there is no such file"};
    int zipProblem = 0;
    zip_.reset(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &zipProblem));
    if (!zip_) return wrong("this is not an OpenRaster file, or it is damaged");
    if (!bench_.ok()) return Error{Code::unwritable, path, "there is no room for temporary files"};
    HSEAM_TRY(const std::string xml, text("stack.xml"));
    // A document type could define entities that grow without end; no OpenRaster file needs one.
    if (xml.find("<!DOCTYPE") != std::string::npos || xml.find("<!ENTITY") != std::string::npos)
      return wrong("its list of layers defines entities, which is not allowed");
    pugi::xml_document document;
    if (!document.load_buffer(xml.data(), xml.size(), pugi::parse_default)) return wrong("its list of layers is damaged");
    const pugi::xml_node image = document.child("image");
    out_.scene.canvas = {image.attribute("w").as_int(), image.attribute("h").as_int()};
    HSEAM_TRY(out_.scene.layers, layers(image.child("stack"), 0));
    if (auto valid = scene::validate(out_.scene); !valid.ok()) return Error{valid.error().code, path_, valid.error().detail};
    return std::move(out_);
  }

 private:
  Error wrong(const std::string& what) const { return {Code::corrupt, path_, what}; }

  Result<zip_uint64_t> entry(const std::string& name, std::int64_t most) {
    const fs::path inside(name);
    bool leaves = inside.is_absolute() || name.find('\\') != std::string::npos || name.empty();
    for (const fs::path& step : inside) leaves = leaves || step == "..";
    if (leaves) return wrong("it names a file outside itself: " + name.substr(0, 80));
    const zip_int64_t index = zip_name_locate(zip_.get(), name.c_str(), 0);
    if (index < 0) return wrong("it has no " + name.substr(0, 80));
    zip_stat_t info;
    if (zip_stat_index(zip_.get(), zip_uint64_t(index), 0, &info) != 0 || !(info.valid & ZIP_STAT_SIZE))
      return wrong("it is damaged");
    if (std::int64_t(info.size) > most)
      return Error{Code::limitExceeded, path_, name.substr(0, 80) + " is too large when unpacked"};
    return zip_uint64_t(index);
  }

  // Reads an entry in blocks; never more than `most`, whatever the archive's list said.
  Status unpack(const std::string& name, std::int64_t most, const std::function<bool(const char*, std::size_t)>& take) {
    HSEAM_TRY(const zip_uint64_t index, entry(name, most));
    zip_file_t* file = zip_fopen_index(zip_.get(), index, 0);
    if (!file) return wrong("it is damaged or locked by a password");
    char block[65536];
    std::int64_t total = 0;
    zip_int64_t n = 0;
    bool taken = true;
    while (taken && (n = zip_fread(file, block, sizeof block)) > 0 && (total += n) <= most) taken = take(block, std::size_t(n));
    zip_fclose(file);
    if (!taken) return Error{Code::unwritable, path_, "there is no room for temporary files"};
    if (n < 0) return wrong("it is damaged");
    if (total > most) return Error{Code::limitExceeded, path_, name.substr(0, 80) + " is too large when unpacked"};
    return {};
  }

  Result<std::string> text(const std::string& name) {
    std::string all;
    HSEAM_DO(unpack(name, kMostXml, [&](const char* bytes, std::size_t count) {
      all.append(bytes, count);
      return true;
    }));
    return all;
  }

  Result<image::TiledImage> picture(const std::string& name) {
    const std::string file = bench_.at("in.png");
    std::FILE* out = std::fopen(file.c_str(), "wb");
    if (!out) return Error{Code::unwritable, path_, "there is no room for temporary files"};
    auto unpacked = unpack(name, kMostEntry,
                           [&](const char* bytes, std::size_t count) { return std::fwrite(bytes, 1, count, out) == count; });
    const bool closed = std::fclose(out) == 0;
    if (!unpacked.ok()) return unpacked.error();
    if (!closed) return Error{Code::unwritable, path_, "there is no room for temporary files"};
    auto read = image::readPicture(file, memory_, executor_, {});
    if (!read.ok()) return Error{read.error().code, path_, name.substr(0, 80) + ": " + read.error().detail};
    for (const std::string& w : read->warnings) out_.warnings.push_back(std::string(name).append(": ").append(w));
    return read->pixels;
  }

  Result<std::vector<LayerRef>> layers(const pugi::xml_node& stack, int depth) {
    if (depth > kMostDepth) return Error{Code::limitExceeded, path_, "its groups are nested too deeply"};
    std::vector<LayerRef> out;
    for (const pugi::xml_node& node : stack.children()) {
      if (progress_.cancelled()) return base::cancelledError();
      const std::string kind = node.name();
      if (kind != "layer" && kind != "stack") {
        if (node.type() == pugi::node_element)
          out_.warnings.push_back("a part that is not known here was left out: " + kind.substr(0, 40));
        continue;
      }
      if (std::int64_t(++count_) > kMostLayers) return Error{Code::limitExceeded, path_, "it has too many layers"};
      Layer l;
      l.id = {count_};
      l.name = base::cleanText(node.attribute("name").as_string(kind == "layer" ? "layer" : "group"));
      const double opacity = node.attribute("opacity").as_double(1);
      l.opacity = opacity >= 0 && opacity <= 1 ? opacity : 1;
      l.hidden = std::string(node.attribute("visibility").as_string()) == "hidden";
      const std::string op = node.attribute("composite-op").as_string("svg:src-over");
      if (const auto found = modesByName().find(op); found != modesByName().end()) {
        l.mode = found->second;
      } else {
        out_.warnings.push_back("\"" + l.name + "\": the mode " + op.substr(0, 40) + " is not known here: normal instead");
      }
      if (kind == "stack") {
        HSEAM_TRY(auto inner, layers(node, depth + 1));
        const bool open = std::string(node.attribute("isolation").as_string("isolate")) == "auto" && l.opacity >= 1 &&
                          l.mode == BlendMode::normal;
        l.content = scene::GroupContent{std::move(inner), !open};
      } else {
        scene::PictureContent p;
        p.sourceName = node.attribute("src").as_string();
        HSEAM_TRY(p.source, picture(p.sourceName));
        p.placement.x = std::clamp(node.attribute("x").as_int(), -image::kMaxSide, image::kMaxSide);
        p.placement.y = std::clamp(node.attribute("y").as_int(), -image::kMaxSide, image::kMaxSide);
        l.content = std::move(p);
      }
      out.insert(out.begin(), std::make_shared<const Layer>(std::move(l)));
    }
    return out;
  }

  std::shared_ptr<image::TileMemory> memory_;
  base::Executor& executor_;
  const base::Progress& progress_;
  std::string path_;
  Zip zip_;
  base::TemporaryFolder bench_{"layers"};
  std::uint64_t count_ = 0;
  OpenRasterRead out_;
};

}  // namespace

Result<std::vector<std::string>> writeOpenRaster(const std::string& path, const scene::Scene& scene, const FlatLayerSource& flat,
                                                 const base::Progress& progress) try {
  auto done = Writer(scene, flat, progress).write(path);
  if (done.ok()) progress.report(1);
  return done;
} catch (...) {
  return base::caught(path);
}

Result<OpenRasterRead> readOpenRaster(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                      base::Executor& executor, const base::Progress& progress) try {
  return Unpacker(memory, executor, progress).read(path);
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::store
