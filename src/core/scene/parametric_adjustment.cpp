// The values of an adjustment of the table.

#include <algorithm>
#include <cstring>

#include "core/scene/adjustment_kinds.h"

namespace hseam::scene {
namespace {

std::size_t fieldOf(const AdjustmentKind& kind, const char* key) {
  const auto at = std::find_if(kind.fields.begin(), kind.fields.end(),
                               [&](const AdjustmentField& f) { return std::strcmp(f.key, key) == 0; });
  CORE_CHECK(at != kind.fields.end());
  return std::size_t(at - kind.fields.begin());
}

}  // namespace

double ParametricAdjustment::operator[](const char* key) const {
  return values[fieldOf(of(), key)];
}

ParametricAdjustment parametric(AdjustmentId id) {
  ParametricAdjustment n{id, {}};
  for (const AdjustmentField& f : n.of().fields) n.values.push_back(f.initial);
  return n;
}

ParametricAdjustment with(ParametricAdjustment n, const char* key, double value) {
  n.values[fieldOf(n.of(), key)] = value;
  return n;
}

base::Status validParameters(const ParametricAdjustment& n) {
  if (std::size_t(n.id) >= adjustmentKinds().size()) return base::Error{base::Code::invalid, "", "this adjustment is unknown"};
  const AdjustmentKind& kind = n.of();
  if (n.values.size() != kind.fields.size())
    return base::Error{base::Code::invalid, kind.name, "it has another number of values"};
  for (std::size_t i = 0; i < n.values.size(); ++i) {
    const AdjustmentField& f = kind.fields[i];
    if (!(n.values[i] >= f.low && n.values[i] <= f.high))
      return base::Error{base::Code::invalid, kind.name,
                         std::string(f.key) + " must lie within " + std::to_string(f.low) + " to " + std::to_string(f.high)};
  }
  return {};
}

double reachOf(const ParametricAdjustment& n) {
  return n.of().reach ? n.of().reach(n.values) : 0;
}

}  // namespace hseam::scene
