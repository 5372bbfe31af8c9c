#pragma once
// The permission of the people seen in a picture, or of its owner.

#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/scene/layer_id.h"

namespace hseam::scene {

struct Scene;

struct Permission {
  std::string who;          // is seen in it, or has allowed it
  std::string what;         // what for: "posters and the web"
  std::string until;        // its last day, "2027-05-31"; empty: without end
  bool minors = false;      // children or young people are seen
  bool nobodySeen = false;  // nobody can be recognised in it: nobody has to be asked
  friend bool operator==(const Permission&, const Permission&) = default;
};

/// Errors: invalid (`until` is no day of the calendar).
base::Status validPermission(const Permission& permission);

/// A picture whose permission must be confirmed before it is handed over.
struct UnclearPermission {
  enum class Why { missing, lapsed, minors };
  LayerId layer;
  std::string name;
  Why why;
  std::string until;  // of what has lapsed
};
/// Of all picture layers that are not hidden, from back to front: those without a note, those whose last day is before `today`
/// ("2026-12-01"), and those in which minors are seen. What the
/// program made in the scene (paintings, merged copies) is nobody's picture.
std::vector<UnclearPermission> unclearPermissions(const Scene& scene, const std::string& today);

/// Of those, the ones against which somebody has said something: lapsed, or minors. A missing note only warns.
std::vector<UnclearPermission> standAgainst(const std::vector<UnclearPermission>& unclear);
/// "name: sentence" of each, joined.
std::string sentences(const std::vector<UnclearPermission>& unclear, const std::string& between);
/// The note of a picture made from all visible pictures of a scene: who and what joined, the earliest last day, minors if any
/// shows them. Nothing: none of them has a note.
std::optional<Permission> combinedPermission(const Scene& scene);
/// "2026-12-01", local time.
std::string today();
/// "no permission is noted", "its permission ended on 2026-05-31", "minors are seen in it".
std::string sentence(const UnclearPermission& unclear);

}  // namespace hseam::scene
