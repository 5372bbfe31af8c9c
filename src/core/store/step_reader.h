#pragma once
// Reads the scene of a step on demand, and knows the names of layers and pictures in the file.

#include <map>
#include <mutex>
#include <string>
#include <unordered_map>

#include "core/scene/scene.h"
#include "core/store/tile_reader.h"

namespace hseam::store {

/// Any thread.
class StepReader {
 public:
  StepReader(std::shared_ptr<ReadPool> pool, std::shared_ptr<TileReader> tiles, std::shared_ptr<image::TileMemory> memory)
      : pool_(std::move(pool)), tiles_(std::move(tiles)), memory_(std::move(memory)) {}

  /// The scene of the step `sequence`. Layers and pictures in use are shared, not read again.
  /// Errors: corrupt, unsupported, what the database says.
  base::Result<scene::Scene> read(int sequence);

  /// Names of what is in the file already.
  struct Names {
    std::map<scene::LayerRef, std::string> layers;          // held, so that an address cannot be used twice
    std::unordered_map<std::uint64_t, std::string> images;  // by stamp
  };
  std::optional<std::string> nameOf(const scene::LayerRef& layer) const;
  std::optional<std::string> nameOf(const image::TiledImage& image) const;
  void add(const Names& names);
  /// Forgets the layers that `scene` does not have: only the newest scene's are worth remembering.
  void keepOnly(const scene::Scene& scene);

 private:
  class Reading;
  std::shared_ptr<ReadPool> pool_;
  std::shared_ptr<TileReader> tiles_;
  std::shared_ptr<image::TileMemory> memory_;
  std::mutex reading_;  // one step at a time, so that all find what the others read
  std::unordered_map<std::string, std::weak_ptr<const scene::Layer>> layersRead_;
  std::unordered_map<std::string, image::TiledImage::Weak> imagesRead_;
  mutable std::mutex naming_;
  Names names_;
};

}  // namespace hseam::store
