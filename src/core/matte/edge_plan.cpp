#include "core/matte/edge_plan.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"

namespace hseam::matte {
namespace {

using Json = nlohmann::json;

constexpr double kReachPx = 20;
constexpr std::size_t kMostStretches = 1000, kMostPoints = 100000;

Json toJson(const EdgeShape& s) {
  return {{"offsetPx", s.offsetPx}, {"width", s.width}, {"tail", s.tail}, {"roundPx", s.roundPx}};
}
EdgeShape shapeFrom(const Json& j) {
  const auto within = [&](const char* key, double neutral, double low, double high) {
    const double v = j.value(key, neutral);
    return std::isfinite(v) ? std::clamp(v, low, high) : neutral;
  };
  return {within("offsetPx", 0, -40, 40), within("width", 1, 0.1, 4), within("tail", 0, -1, 1), within("roundPx", 0, 0, 60)};
}
std::optional<EdgeKind> kindNamed(const std::string& name) {
  for (const EdgeKind k : {EdgeKind::solid, EdgeKind::soft, EdgeKind::hair}) {
    if (name == nameOf(k)) return k;
  }
  return std::nullopt;
}

// Places of one outline stand next to one another.
struct Range {
  int first, end;
};
Range outlineRound(const Unrolled& outline, int place) {
  const auto& all = outline.places;
  const int which = all[std::size_t(place)].outline;
  Range r{place, place};
  while (r.first > 0 && all[std::size_t(r.first - 1)].outline == which) --r.first;
  while (r.end < int(all.size()) && all[std::size_t(r.end)].outline == which) ++r.end;
  return r;
}

}  // namespace

bool EdgePlan::shapes() const {
  const auto acts = [](const EdgeShape& s) { return s != EdgeShape{}; };
  return specksPx > 0 || std::any_of(byKind.begin(), byKind.end(), acts) ||
         std::any_of(stretches.begin(), stretches.end(), [](const MarkedStretch& s) { return s.shape.has_value(); });
}

std::string toText(const EdgePlan& plan) {
  if (plan.neutral()) return {};
  Json j = {{"version", 1}, {"specksPx", plan.specksPx}};
  for (const EdgeKind k : {EdgeKind::solid, EdgeKind::soft, EdgeKind::hair})
    j["byKind"][nameOf(k)] = toJson(plan.byKind[std::size_t(k)]);
  for (const MarkedStretch& s : plan.stretches) {
    Json one = {{"along", Json::array()}};
    for (const base::Point& p : s.along) one["along"].push_back({p.x, p.y});
    if (s.kind) one["kind"] = nameOf(*s.kind);
    if (s.shape) one["shape"] = toJson(*s.shape);
    j["stretches"].push_back(std::move(one));
  }
  return base::jsonText(j);
}

base::Result<EdgePlan> edgePlanFrom(const std::string& text) {
  EdgePlan plan;
  if (text.empty()) return plan;
  try {
    const Json j = Json::parse(text);
    const double specks = j.value("specksPx", 0.0);
    plan.specksPx = std::isfinite(specks) ? int(std::clamp(specks, 0.0, 1e4)) : 0;
    const Json kinds = j.value("byKind", Json::object()), stretches = j.value("stretches", Json::array());
    for (const EdgeKind k : {EdgeKind::solid, EdgeKind::soft, EdgeKind::hair}) {
      if (kinds.contains(nameOf(k))) plan.byKind[std::size_t(k)] = shapeFrom(kinds.at(nameOf(k)));
    }
    for (const Json& one : stretches) {
      MarkedStretch s;
      for (const Json& p : one.at("along")) s.along.push_back({p.at(0).get<double>(), p.at(1).get<double>()});
      if (one.contains("kind")) s.kind = kindNamed(one.at("kind").get<std::string>());
      if (one.contains("shape")) s.shape = shapeFrom(one.at("shape"));
      const bool near = std::all_of(s.along.begin(), s.along.end(),
                                    [](const base::Point& p) { return std::abs(p.x) < 1e6 && std::abs(p.y) < 1e6; });
      if (!near) return base::Error{base::Code::corrupt, "edge plan", "a mark lies out of reach"};
      if (s.along.size() > kMostPoints || plan.stretches.size() >= kMostStretches)
        return base::Error{base::Code::limitExceeded, "edge plan", "it marks too many stretches"};
      plan.stretches.push_back(std::move(s));
    }
  } catch (const Json::exception& e) {
    return base::Error{base::Code::corrupt, "edge plan", std::string("cannot be understood: ") + e.what()};
  }
  return plan;
}

MarkedStretch markedFrom(const Unrolled& outline, int first, int count) {
  MarkedStretch s;
  const Range r = outlineRound(outline, first);
  const int whole = r.end - r.first;
  count = std::min(count, whole);
  const auto at = [&](int i) { return outline.places[std::size_t(r.first) + std::size_t((first - r.first + i) % whole)].at; };
  for (int i = 0; i < count - 1; i += int(kMarkStep)) s.along.push_back(at(i));
  s.along.push_back(at(count - 1));
  return s;
}

MarkedStretch& entryOf(EdgePlan& plan, const MarkedStretch& mark) {
  const auto known =
      std::find_if(plan.stretches.begin(), plan.stretches.end(), [&](const MarkedStretch& s) { return s.along == mark.along; });
  return known != plan.stretches.end() ? *known : plan.stretches.emplace_back(MarkedStretch{mark.along, {}, {}});
}

std::vector<bool> placesOn(const Unrolled& outline, const MarkedStretch& stretch) {
  std::vector<bool> on(outline.places.size(), false);
  if (stretch.along.empty()) return on;
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY;
  for (const base::Point& p : stretch.along)
    l = std::min(l, p.x), t = std::min(t, p.y), r = std::max(r, p.x), b = std::max(b, p.y);
  for (std::size_t i = 0; i < on.size(); ++i) {
    const base::Point p = outline.places[i].at;
    if (p.x < l - kReachPx || p.x > r + kReachPx || p.y < t - kReachPx || p.y > b + kReachPx) continue;
    const auto nearest =
        std::min_element(stretch.along.begin(), stretch.along.end(), [&](const base::Point& a, const base::Point& c) {
          return std::hypot(a.x - p.x, a.y - p.y) < std::hypot(c.x - p.x, c.y - p.y);
        });
    const double d = std::hypot(nearest->x - p.x, nearest->y - p.y);
    // Beyond the ends the circle round the last point would take in more of the outline than was marked.
    const bool end = nearest == stretch.along.begin() || nearest == stretch.along.end() - 1;
    on[i] = d <= (end ? kMarkStep / 2 : kReachPx);
  }
  return on;
}

std::vector<PlaceRun> runsOn(const Unrolled& outline, const MarkedStretch& stretch) {
  constexpr int kShortest = 8;  // px
  const std::vector<bool> on = placesOn(outline, stretch);
  std::vector<PlaceRun> runs;
  for (int i = 0; i < int(on.size());) {
    int end = i;
    const int which = outline.places[std::size_t(i)].outline;
    while (end < int(on.size()) && on[std::size_t(end)] && outline.places[std::size_t(end)].outline == which) ++end;
    if (end - i >= kShortest) runs.push_back({i, end - i});
    i = std::max(end, i + 1);
  }
  return runs;
}

std::optional<std::size_t> stretchAt(const EdgePlan& plan, const Unrolled& outline, int first, int count) {
  std::optional<std::size_t> best;
  int most = 0;
  for (std::size_t i = 0; i < plan.stretches.size(); ++i) {
    const auto on = placesOn(outline, plan.stretches[i]);
    const int n = int(std::count(on.begin() + first, on.begin() + std::min<long>(first + count, long(on.size())), true));
    if (n * 2 >= count && n >= most) best = i, most = n;
  }
  return best;
}

}  // namespace hseam::matte
