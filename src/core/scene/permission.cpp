#include "core/scene/permission.h"

#include <chrono>
#include <cstdio>

#include "core/scene/scene.h"

namespace hseam::scene {

base::Status validPermission(const Permission& p) {
  if (p.until.empty()) return {};
  int year = 0, month = 0, day = 0, read = 0;
  const bool form =
      p.until.size() == 10 && std::sscanf(p.until.c_str(), "%4d-%2d-%2d%n", &year, &month, &day, &read) == 3 && read == 10;
  const std::chrono::year_month_day at{std::chrono::year(year), std::chrono::month(unsigned(month)),
                                       std::chrono::day(unsigned(day))};
  if (!form || !at.ok()) return base::Error{base::Code::invalid, "until", "\"" + p.until + "\" is no day, such as 2027-05-31"};
  return {};
}

std::vector<UnclearPermission> unclearPermissions(const Scene& scene, const std::string& today) {
  using Why = UnclearPermission::Why;
  std::vector<UnclearPermission> out;
  for (const LayerRef& l : allLayers(scene)) {
    const PictureContent* p = l->picture();
    if (!p || p->byHand || l->hidden) continue;
    const auto& note = p->permission;
    if (!note && p->sourceHash.empty()) continue;  // made in the scene, of what is asked about where it stands
    if (!note) {
      out.push_back({l->id, l->name, Why::missing, {}});
    } else if (!note->until.empty() && note->until < today) {
      out.push_back({l->id, l->name, Why::lapsed, note->until});
    } else if (note->minors) {
      out.push_back({l->id, l->name, Why::minors, {}});
    }
  }
  return out;
}

std::string sentence(const UnclearPermission& u) {
  switch (u.why) {
    case UnclearPermission::Why::missing:
      return "no permission is noted";
    case UnclearPermission::Why::lapsed:
      return "its permission ended on " + u.until;
    default:
      return "minors are seen in it";
  }
}

}  // namespace hseam::scene
