#include "core/store/step_reader.h"

#include <charconv>
#include <new>
#include <set>

#include "core/scene/layer_record.h"
#include "core/store/tile_codec.h"

namespace hseam::store {
namespace {

using base::Code;
using base::Error;
using base::Result;
using scene::LayerRef;

constexpr int kMostDepth = 64;  // of groups

std::optional<std::int64_t> numberOf(const std::string& name) {
  std::int64_t number = 0;
  const auto [end, problem] = std::from_chars(name.data(), name.data() + name.size(), number);
  if (problem != std::errc() || end != name.data() + name.size()) return std::nullopt;
  return number;
}

}  // namespace

// One call of read().
class StepReader::Reading {
 public:
  explicit Reading(StepReader& reader) : r_(reader) {}

  Result<LayerRef> layer(const std::string& name) {
    if (const auto known = r_.layersRead_.find(name); known != r_.layersRead_.end()) {
      if (LayerRef held = known->second.lock()) return held;
    }
    // A damaged file could lead round in circles.
    if (depth_ > kMostDepth) return Error{Code::corrupt, r_.pool_->path(), "groups are nested too deeply"};
    ++depth_;
    const struct Leave {
      int& depth;
      ~Leave() { --depth; }
    } leave{depth_};
    HSEAM_TRY(const auto blob, item(name));
    const std::string record(reinterpret_cast<const char*>(blob.data()), blob.size());
    HSEAM_TRY(scene::Layer read,
              scene::layerFromRecord(
                  record, [this](const std::string& n) { return image(n); }, [this](const std::string& n) { return layer(n); }));
    auto ref = std::make_shared<const scene::Layer>(std::move(read));
    r_.layersRead_[name] = ref;
    names.layers[ref] = name;
    return LayerRef(ref);
  }

  Names names;

 private:
  Result<std::vector<std::byte>> item(const std::string& name) {
    const auto number = numberOf(name);
    if (!number) return Error{Code::corrupt, r_.pool_->path(), "a part of the project has no proper name"};
    return readItem(*r_.pool_, *number);
  }

  Result<image::TiledImage> image(const std::string& name) {
    if (const auto known = r_.imagesRead_.find(name); known != r_.imagesRead_.end()) {
      if (image::TiledImage held = known->second.lock(); !held.isNull()) return held;
    }
    HSEAM_TRY(const auto blob, item(name));
    HSEAM_TRY(image::TiledImage read, unpackManifest(blob, r_.memory_, *r_.tiles_));
    r_.imagesRead_[name] = image::TiledImage::Weak(read);
    names.images[read.stamp()] = name;
    return read;
  }

  StepReader& r_;
  int depth_ = 0;
};

Result<scene::Scene> StepReader::read(int sequence) try {
  const std::lock_guard lock(reading_);
  HSEAM_TRY(auto connection, pool_->take());
  if (!connection->step) {
    HSEAM_TRY(connection->step, connection->database.prepare("SELECT scene FROM step WHERE sequence = ?"));
  }
  HSEAM_TRY(const bool found, connection->step->bind(1, sequence).step());
  const std::string record = found ? connection->step->text(0) : std::string();
  connection->step->reset();
  pool_->giveBack(std::move(connection));
  if (!found) return Error{Code::corrupt, pool_->path(), "step " + std::to_string(sequence) + " is missing from the project"};
  Reading reading(*this);
  auto read = scene::sceneFromRecord(record, [&](const std::string& name) { return reading.layer(name); });
  if (!read.ok()) return Error{read.error().code, pool_->path(), read.error().text()};
  add(reading.names);
  return read;
} catch (...) {
  return base::caught(pool_->path());
}

std::optional<std::string> StepReader::nameOf(const LayerRef& layer) const {
  const std::lock_guard lock(naming_);
  const auto known = names_.layers.find(layer);
  return known == names_.layers.end() ? std::nullopt : std::optional(known->second);
}

std::optional<std::string> StepReader::nameOf(const image::TiledImage& image) const {
  const std::lock_guard lock(naming_);
  const auto known = names_.images.find(image.stamp());
  return known == names_.images.end() ? std::nullopt : std::optional(known->second);
}

void StepReader::add(const Names& names) {
  const std::lock_guard lock(naming_);
  names_.layers.insert(names.layers.begin(), names.layers.end());
  names_.images.insert(names.images.begin(), names.images.end());
}

void StepReader::keepOnly(const scene::Scene& scene) {
  const auto now = scene::allLayers(scene);
  const std::set<LayerRef> live(now.begin(), now.end());
  const std::lock_guard lock(naming_);
  std::erase_if(names_.layers, [&](const auto& entry) { return !live.contains(entry.first); });
}

}  // namespace hseam::store
