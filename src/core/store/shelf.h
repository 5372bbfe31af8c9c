#pragma once
// A library of the user's own pictures for all projects: places, skies, textures, with their readings. A folder: for each item
// the unchanged picture file and a JSON file of the same name.

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/scene/permission.h"

namespace hseam::store {

/// What an item is good for.
enum class ShelfKind { place, sky, texture };
const char* shelfKindName(ShelfKind kind);

struct ShelfItem {
  std::string id;    // of the shelf; given when it is put there
  std::string file;  // path of the picture
  std::string name;  // for people
  ShelfKind kind = ShelfKind::place;
  int width = 0, height = 0;                       // px
  std::optional<double> horizonY;                  // px of the picture, in its middle column
  double blurPx = 0;                               // standard deviation of its edges' blur, px of the picture; 0: not known
  double midL = 0;                                 // L* of its middle tone; 0: not known
  std::optional<std::pair<double, double>> light;  // a* b* of a grey of L* 60 under its light
  std::optional<std::pair<double, double>> lightFromDeg;  // azimuth and elevation of a light that was set in its scene
  std::optional<scene::Permission> permission;
  friend bool operator==(const ShelfItem&, const ShelfItem&) = default;
};

class Shelf {
 public:
  /// folder: made when something is put there.
  explicit Shelf(std::string folder) : folder_(std::move(folder)) {}
  struct Listed {
    std::vector<ShelfItem> items;       // by name
    std::vector<std::string> problems;  // sentences: of items that cannot be read; they are left where they are
  };
  /// Cost: one small file an item. A folder that is not there is an empty shelf.
  Listed list() const;
  /// Puts the bytes of a picture file there. ending: of the file's name, "jpg". id and file of `about` are set here; an item with
  /// the same bytes is replaced. Errors: unwritable, invalid (no name, an ending that is no picture's).
  base::Result<ShelfItem> put(std::span<const std::byte> bytes, const std::string& ending, ShelfItem about) const;
  /// Replaces the readings of an existing item. Errors: notFound, unwritable.
  base::Status change(const ShelfItem& item) const;
  /// Errors: notFound, unwritable.
  base::Status takeOff(const std::string& id) const;
  const std::string& folder() const { return folder_; }

 private:
  std::string folder_;
};

}  // namespace hseam::store
