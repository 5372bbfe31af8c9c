#include "core/scene/permission.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <ctime>

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

std::vector<UnclearPermission> standAgainst(const std::vector<UnclearPermission>& unclear) {
  std::vector<UnclearPermission> out;
  std::copy_if(unclear.begin(), unclear.end(), std::back_inserter(out),
               [](const UnclearPermission& u) { return u.why != UnclearPermission::Why::missing; });
  return out;
}

std::string sentences(const std::vector<UnclearPermission>& unclear, const std::string& between) {
  std::string out;
  for (const UnclearPermission& u : unclear) out += (out.empty() ? "" : between) + u.name + ": " + sentence(u);
  return out;
}

std::optional<Permission> combinedPermission(const Scene& scene) {
  std::optional<Permission> out;
  const auto join = [](std::string& all, const std::string& one) {
    const bool there = (", " + all + ", ").find(", " + one + ", ") != std::string::npos;
    if (!one.empty() && !there) all += (all.empty() ? "" : ", ") + one;
  };
  for (const LayerRef& l : allLayers(scene)) {
    const PictureContent* p = l->picture();
    if (!p || l->hidden || !p->permission) continue;
    const Permission& one = *p->permission;
    if (!out) {
      out = one;
      continue;
    }
    join(out->who, one.who);
    join(out->what, one.what);
    if (!one.until.empty() && (out->until.empty() || one.until < out->until)) out->until = one.until;
    out->minors = out->minors || one.minors;
    out->nobodySeen = out->nobodySeen && one.nobodySeen;
  }
  return out;
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm local{};
  localtime_r(&now, &local);
  char day[11];
  std::strftime(day, sizeof day, "%Y-%m-%d", &local);
  return day;
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
